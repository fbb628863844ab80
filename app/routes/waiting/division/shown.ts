import type { StandingDraft } from "~/app/server/division/draft";
import { catalogueOf } from "~/app/server/planning/planning";
import { type Division, stillProven } from "~/core/allocate/divide";
import { kindsOf } from "~/core/allocate/verdict";
import { titlesApart } from "~/core/catalogue/model";
import type { Store } from "~/store/database";
import { groupNames } from "~/store/evenings";

/** A draft as the page shows it: groups and models by their names, devices where they stand. */
export function shownDraft(store: Store, draft: StandingDraft) {
  const { asked, division, whatIf, supposing, proving, alternatives, undo = [], rests: _, ...stands } = draft;
  const { question } = asked;
  const names = groupNames(store);
  const titles = titlesApart(catalogueOf(store).models);
  const images = new Map(catalogueOf(store).images.map(({ id, title }) => [id, title]));
  const nameOf = (group: string) => names.get(group) ?? group;
  const groupBy = new Map(question.groups.map((group) => [group.id, group]));
  const uncleared = new Set(asked.uncleared);
  const pinned = new Map(
    question.pins.filter(({ kind }) => kind === "there").map(({ device, group }) => [device, group]),
  );
  const promised = new Set(asked.promised ?? []);
  const placed = division?.placed ?? [];
  const models = [...new Set(placed.map(({ option }) => option.model))].sort((a, b) =>
    (titles.get(a) ?? a).localeCompare(titles.get(b) ?? b),
  );
  const pilots = pilotsOf(placed);
  const reserve = question.candidates
    .filter(({ device }) => !placed.some((each) => each.device === device))
    .map(({ device, options }) => ({ device, groups: [...new Set(options.map(({ group }) => group))] }));
  const builds = [...new Set(placed.map(({ option }) => option.build))];
  return {
    ...stands,
    undo: undo.length,
    problems: [...asked.problems, ...(division?.problems ?? [])],
    confidence: question.confidence,
    models: models.map((id) => ({ id, title: titles.get(id) ?? id })),
    builds: builds.map((build) => {
      const [model, image] = build.split("|");
      return {
        model: titles.get(model) ?? model,
        image: images.get(image) ?? image,
        pilot: pilots.get(build) ?? "",
        devices: placed.filter(({ option }) => option.build === build).length,
      };
    }),
    shares:
      division?.shares.map((share) => {
        const group = groupBy.get(share.group);
        return {
          ...share,
          name: nameOf(share.group),
          wanted: group?.wanted ?? 0,
          least: group?.least ?? 0,
          by: group?.by ?? "",
          devices: placed
            .filter(({ option }) => option.group === share.group)
            .map(({ device, option }) => ({
              device,
              model: option.model,
              chance: option.chance,
              cleared: !uncleared.has(device),
              pinned: pinned.get(device) === share.group,
              promised: promised.has(device),
              pilot: pilots.get(option.build) === device,
            })),
        };
      }) ?? null,
    reserve,
    unread: asked.unread,
    nobody: asked.nobody ?? [],
    uncleared: asked.uncleared.length,
    proven: shownProofs(division?.proven ?? []),
    kinds: kindsOf(question, placed),
    supposing: supposing ?? null,
    proving: proving ?? false,
    alternatives: (alternatives ?? []).map(({ shares, moves, ...rest }) => ({
      ...rest,
      shares: shares.map((share) => ({
        ...share,
        name: nameOf(share.group),
        wanted: groupBy.get(share.group)?.wanted ?? 0,
      })),
      moves: moves.map(({ device, from, to }) => ({ device, from: from && nameOf(from), to: to && nameOf(to) })),
    })),
    whatIf: whatIf.map(({ code, name, gained, more }) => ({ code, name, more, gained: gained.map(nameOf) })),
  };
}

const shownProofs = (proven: Division["proven"]) => {
  const holds = stillProven(proven);
  return proven.map(({ aim, value, bound }, k) => ({ aim, value, bound, holds: holds[k] }));
};

export type ShownDraft = ReturnType<typeof shownDraft>;

/** The pilot of a build is its likeliest device: the others wait for its checkout. */
function pilotsOf(placed: NonNullable<StandingDraft["division"]>["placed"]): Map<string, string> {
  const pilots = new Map<string, { readonly device: string; readonly chance: number }>();
  for (const { device, option } of placed) {
    const pilot = pilots.get(option.build);
    if (!pilot || option.chance > pilot.chance) pilots.set(option.build, { device, chance: option.chance });
  }
  return new Map([...pilots].map(([build, { device }]) => [build, device]));
}
