import { refusalOf } from "~/app/server/http/refusal";
import { catalogueOf, type PlannedDevice } from "~/app/server/planning/planning";
import { type DraftPackageList, draftPackageList } from "~/core/catalogue/draftPackageList";
import { Image } from "~/core/catalogue/image";
import { slugOf } from "~/core/catalogue/slug";
import { currentValue } from "~/core/device/lookUp";
import { PLATFORM_KEPT } from "~/core/ways/cleaned-stock/kept";
import { saveEntry } from "~/store/catalogue";
import type { Hand, Store } from "~/store/database";

export type Draft = DraftPackageList & { readonly id: string };

/** What a device lists, held against what always stays and what other lists of its model keep. @returns what is wrong in words otherwise */
export function draftFor(store: Store, { model, facts }: PlannedDevice, text: string): Draft | string {
  const build = currentValue(facts, "build.number");
  if (!model || !build) return "Model and full build number must be known first: a list belongs to one build";
  const others = new Map(
    catalogueOf(store)
      .images.filter((i) => i.kind === "package-list" && i.models.includes(model.id))
      .flatMap((i) => i.packages?.keep.map((p) => [p.name, p.is] as const) ?? []),
  );
  const draft = draftPackageList(text, PLATFORM_KEPT, others);
  return typeof draft === "string" ? draft : { ...draft, id: slugOf(`${model.id}-clean-${build}`).slice(0, 60) };
}

type Saved = { readonly ok: true; readonly id: string } | { readonly ok: false; readonly says: string };

/** Puts the list into the catalogue: what was ticked goes, what was marked stays. */
export function saveList(
  store: Store,
  { model, facts, standing }: PlannedDevice,
  draft: Draft,
  form: FormData,
  on: string,
  hand: Hand,
): Saved {
  const said = (name: string) => String(form.get(name) ?? "").trim();
  const goes = draft.packages.filter((p) => p.keptBecause === null && form.has(`goes.${p.name}`));
  const unsaid = goes.find((p) => said(`is.${p.name}`) === "");
  if (unsaid) return { ok: false, says: `Say what ${unsaid.name} is: nobody takes away what nobody knows` };
  const read = Image.safeParse({
    id: said("id"),
    kind: "package-list",
    title: said("title"),
    version: "1",
    release: currentValue(facts, "android.release") ?? "",
    build: currentValue(facts, "build.number") ?? null,
    released: on,
    models: model ? [model.id] : [],
    files: [],
    packages: {
      remove: goes.map((p) => ({ name: p.name, is: said(`is.${p.name}`) })),
      keep: draft.packages.flatMap((p) =>
        p.keptBecause && !PLATFORM_KEPT.has(p.name) ? [{ name: p.name, is: p.keptBecause }] : [],
      ),
    },
    source: `Made from what ${standing.tag} lists`,
    on,
  });
  if (!read.success) {
    const [{ path, message }] = read.error.issues;
    return { ok: false, says: `${path.join(".")}: ${message}` };
  }
  if (catalogueOf(store).images.some((i) => i.id === read.data.id))
    return { ok: false, says: `There is an image called ${read.data.id} already: take another short name` };
  try {
    saveEntry(store, "image", read.data, 0, hand);
  } catch (error) {
    return { ok: false, says: refusalOf(error) };
  }
  return { ok: true, id: read.data.id };
}
