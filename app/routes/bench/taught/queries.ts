import { quantileSorted } from "simple-statistics";
import { endedRuns, experienceOf, observations } from "~/app/server/bench/experience";
import { housePolicy } from "~/app/server/planning/housePolicy";
import { indexOf } from "~/app/server/planning/planning";
import type { Experience } from "~/core/experience/experience";
import type { Observation } from "~/core/experience/observe";
import { brierScore, type Promised, reliability } from "~/core/experience/promises";
import { RUN_END_WORDS } from "~/core/lane/station";
import type { Policy } from "~/core/policy/policy";
import type { CatalogueIndex } from "~/core/upgrade/catalogueIndex";
import { planDeviceOf } from "~/core/upgrade/state";
import { OPERATION_KINDS, operationOf, operationWords } from "~/core/ways/registry";
import { checkoutEnd } from "~/store/checkouts";
import type { Store } from "~/store/database";
import { decisionsOf } from "~/store/decisions";
import { acceptedWay } from "~/store/devices";
import { runEnd, runsOf } from "~/store/runs";

const minutes = (seconds: number) => Math.round(seconds / 6) / 10;

/** What is believed of an operation now, starting from what the planner would reckon with without any run. */
function learnedOf(experience: Experience, index: CatalogueIndex, policy: Policy, o: Observation) {
  const kind = OPERATION_KINDS.find((k) => k === o.kind);
  const model = index.models.get(o.model);
  if (!kind || !model) return null;
  const entry = o.image === null ? null : (index.images.get(o.image) ?? null);
  const bound = operationOf(kind).bind(entry, { device: planDeviceOf(model, new Map()), index, policy });
  return bound && experience.learned({ kind, image: o.image }, o.model, 1 - bound.cost.failure);
}

/** Each kind of operation, and each image of it: what was promised against what own runs measured. */
export function operationRows(store: Store) {
  const index = indexOf(store);
  const experience = experienceOf(store);
  const all = observations(store);
  const keys = new Map(all.map((o) => [`${o.kind}|${o.image}|${o.model}`, o]));
  return [...keys.values()]
    .map((o) => {
      const mine = all.filter((x) => x.kind === o.kind && x.image === o.image && x.model === o.model);
      const clocks = mine.flatMap((x) => x.seconds ?? []);
      const learned = learnedOf(experience, index, housePolicy(store), o);
      const sorted = clocks.map((c) => c.measured).sort((a, b) => a - b);
      return {
        kind: o.kind,
        says: operationWords(o.kind),
        image: o.image,
        title: o.image ? (index.images.get(o.image)?.image.title ?? o.image) : null,
        model: o.model,
        ok: mine.filter((x) => x.ok).length,
        of: mine.length,
        chance: learned?.mean ?? null,
        low: learned?.low ?? null,
        high: learned?.high ?? null,
        promised: clocks.length ? minutes(clocks[0].promised) : null,
        median: sorted.length ? minutes(quantileSorted(sorted, 0.5)) : null,
        fourOfFive: sorted.length ? minutes(quantileSorted(sorted, 0.8)) : null,
      };
    })
    .sort((a, b) => b.of - a.of || (a.says < b.says ? -1 : 1));
}

export type OperationRow = ReturnType<typeof operationRows>[number];

/** Where runs stopped or went wrong, most often first, and what was tried next on the same device. */
export function stopRows(store: Store) {
  const rows = new Map<
    string,
    { title: string; count: number; seen: Set<string>; next: Map<string, { of: number; helped: number }> }
  >();
  for (const { run, device, runbook, steps, end } of endedRuns(store)) {
    const places = new Set(steps.filter((s) => s.outcome === "wrong").map((s) => s.place));
    if (end) places.add(end.place);
    for (const place of places) {
      const step = runbook.steps[place];
      if (!step) continue;
      const row = rows.get(step.title) ?? { title: step.title, count: 0, seen: new Set(), next: new Map() };
      row.count++;
      if (end && end.place === place) row.seen.add(RUN_END_WORDS[end.result]);
      const tried = end && end.place === place ? nextTry(store, device, run) : null;
      if (tried) {
        const known = row.next.get(tried.what) ?? { of: 0, helped: 0 };
        row.next.set(tried.what, { of: known.of + 1, helped: known.helped + Number(tried.helped) });
      }
      rows.set(step.title, row);
    }
  }
  return [...rows.values()]
    .map(({ seen, next, ...row }) => ({
      ...row,
      seen: [...seen],
      next: [...next].map(([what, { of, helped }]) => `${what}: helped ${helped} of ${of}`),
    }))
    .sort((a, b) => b.count - a.count);
}

/** What was tried on a device after a run that was ended, and whether it came through; null while nobody can tell. */
function nextTry(
  store: Store,
  device: number,
  run: number,
): { readonly what: string; readonly helped: boolean } | null {
  const next = runsOf(store, device).find((r) => r.id > run);
  if (!next) return null;
  const checked = checkoutEnd(store, next.id);
  if (!checked && !runEnd(store, next.id)) return null;
  const decision = decisionsOf(store, device).find((d) => d.id === next.decision);
  const way = decision ? acceptedWay(decision) : null;
  const what = way?.operations.map((o) => operationWords(o.kind)).join(", then ") || "nothing but a look";
  return { what, helped: checked?.result === "done" };
}

/** How well the chances that were told held. */
export function promiseRows(store: Store) {
  const promises = endedRuns(store).flatMap((record): Promised[] => {
    const decision = decisionsOf(store, record.device).find((d) => d.id === record.decision);
    const way = decision ? acceptedWay(decision) : null;
    if (!way || record.end?.result === "lock") return [];
    const clean = !record.steps.some((s) => s.outcome === "wrong");
    return [{ chance: way.success, kept: clean && !record.end && checkoutEnd(store, record.run)?.result === "done" }];
  });
  return { of: promises.length, brier: brierScore(promises), bins: reliability(promises) };
}
