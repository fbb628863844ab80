import {
  type Catalogue,
  type CatalogueProblem,
  checkReferences,
  entryId,
  Incompatible,
  PACK_HEAD,
  type Pack,
} from "./catalogue";
import { Image } from "./image";
import { inWords } from "./inWords";
import { type FieldDifference, mergeEntry } from "./merge";
import { Model, modelTitle } from "./model";
import { Need } from "./need";

export type PackKind = "model" | "image" | "need" | "incompatible";
export type PackDoc = Model | Image | Need | Incompatible;

/** Schema of each kind of entry. */
export const ENTRY_SCHEMA = { model: Model, image: Image, need: Need, incompatible: Incompatible } as const;
export const PACK_KINDS = Object.keys(ENTRY_SCHEMA) as PackKind[];

/** An entry of any kind, with its kind and what it goes by. */
export interface PackEntry {
  readonly kind: PackKind;
  readonly id: string;
  readonly doc: PackDoc;
}

/** How an entry of a pack stands to what is here. */
export type Standing =
  /** Not here yet. */
  | "new"
  /** Only the pack changed it. */
  | "changed"
  /** Both changed it, in different places. */
  | "merged"
  /** Both changed it in the same place. */
  | "conflict"
  /** Only we changed it. */
  | "kept"
  /** The pack brings back what was taken out here. */
  | "taken-out-here"
  /** An earlier state of this pack had it; this one has not. */
  | "gone";

export interface PackDifference {
  /** Kind and id, as {@link entryKey} writes them. */
  readonly key: string;
  readonly kind: PackKind;
  readonly id: string;
  readonly title: string;
  readonly standing: Standing;
  /** Field by field, where both have the entry. */
  readonly fields: readonly FieldDifference[];
}

/** A pack, or a whole catalogue taken as one. */
export type Titled = Catalogue & { readonly title: string };

/** What a pack said of an entry the last time one was taken in, by {@link entryKey}. */
export type Said = ReadonlyMap<string, PackEntry & { readonly title: string }>;

/** What a person ticked. */
export interface PackChoices {
  /** Entries to take, by key. */
  readonly take: ReadonlySet<string>;
  /** Conflicts that go the pack's way, by {@link conflictKey}. */
  readonly packsWay: ReadonlySet<string>;
  /** Entries to take out because the pack has them no more, by key. */
  readonly out: ReadonlySet<string>;
}

/** Standings that are taken unless somebody says no: none of them overwrites what was changed here. */
export const TAKEN_UNASKED: ReadonlySet<Standing> = new Set(["new", "changed", "merged", "conflict"]);

/**
 * What an entry is called among all entries.
 *
 * @example entryKey("model", "velkora-vista20") // "model velkora-vista20"
 */
export const entryKey = (kind: PackKind, id: string): string => `${kind} ${id}`;
/** @example conflictKey("model velkora-vista20", "names[0]") // "model velkora-vista20 names[0]" */
export const conflictKey = (key: string, at: string): string => `${key} ${at}`;

/**
 * The entries of a catalogue or pack, each under its key, in the order of models, images, needs, pairs.
 *
 * @example entriesOf({ models: [], images: [], needs: [], incompatible: [] }).size // 0
 */
export function entriesOf(catalogue: Catalogue): Map<string, PackEntry> {
  const of = (kind: PackKind, docs: readonly PackDoc[]) => docs.map((doc) => ({ kind, id: entryId(doc), doc }));
  const entries = [
    ...of("model", catalogue.models),
    ...of("image", catalogue.images),
    ...of("need", catalogue.needs),
    ...of("incompatible", catalogue.incompatible),
  ];
  return new Map(entries.map((entry) => [entryKey(entry.kind, entry.id), entry]));
}

const titleOf = (doc: PackDoc): string =>
  "a" in doc ? `${doc.a} with ${doc.b}` : "maker" in doc ? modelTitle(doc) : "apps" in doc ? doc.name : doc.title;

/**
 * What a pack would change, entry by entry; entries that are the same are left out.
 *
 * @example comparePack({ models: [], images: [], needs: [], incompatible: [] }, { title: "Autumn", models: [], images: [], needs: [], incompatible: [] }, new Map()) // []
 */
export function comparePack(here: Catalogue, pack: Titled, said: Said): PackDifference[] {
  const ours = entriesOf(here);
  const theirs = entriesOf(pack);
  const differences: PackDifference[] = [];
  for (const [key, { kind, id, doc }] of theirs) {
    const own = ours.get(key)?.doc;
    const before = said.get(key)?.doc ?? null;
    const rest = { key, kind, id, title: titleOf(doc) };
    if (own) {
      const { differences: fields } = mergeEntry(before, own, doc, () => false);
      if (fields.length) differences.push({ ...rest, standing: standingOf(fields), fields });
    } else differences.push({ ...rest, standing: before ? "taken-out-here" : "new", fields: [] });
  }
  for (const [key, { title }] of said) {
    const own = ours.get(key);
    if (own && title === pack.title && !theirs.has(key))
      differences.push({ key, kind: own.kind, id: own.id, title: titleOf(own.doc), standing: "gone", fields: [] });
  }
  return differences;
}

function standingOf(fields: readonly FieldDifference[]): Standing {
  if (fields.some((f) => f.moved === "both")) return "conflict";
  if (fields.every((f) => f.moved === "here")) return "kept";
  return fields.every((f) => f.moved === "pack") ? "changed" : "merged";
}

/**
 * What is taken of a pack where nobody chose otherwise.
 *
 * @example usualChoices([]).take.size // 0
 */
export function usualChoices(differences: readonly PackDifference[]): PackChoices {
  const take = differences.filter((d) => TAKEN_UNASKED.has(d.standing)).map((d) => d.key);
  return { take: new Set(take), packsWay: new Set(), out: new Set() };
}

export interface PackWrite {
  readonly kind: PackKind;
  readonly id: string;
  /** Null where the entry is taken out. */
  readonly doc: PackDoc | null;
}

/**
 * What has to be written to take a pack in as chosen.
 *
 * @returns the writes, or why the catalogue would not be whole afterwards; nothing of the pack is taken then
 * @example applyPack({ models: [], images: [], needs: [], incompatible: [] }, { title: "Autumn", models: [], images: [], needs: [], incompatible: [] }, new Map(), usualChoices([])) // { ok: true, writes: [] }
 */
export function applyPack(
  here: Catalogue,
  pack: Titled,
  said: Said,
  choices: PackChoices,
):
  | { readonly ok: true; readonly writes: readonly PackWrite[] }
  | { readonly ok: false; readonly problems: readonly CatalogueProblem[] } {
  const whole = entriesOf(here);
  const writes: PackWrite[] = [];
  const problems: CatalogueProblem[] = [];
  for (const [key, { kind, id, doc }] of entriesOf(pack)) {
    if (!choices.take.has(key)) continue;
    const own = whole.get(key)?.doc;
    if (!own) {
      writes.push({ kind, id, doc });
      whole.set(key, { kind, id, doc });
      continue;
    }
    const { merged, differences } = mergeEntry(said.get(key)?.doc ?? null, own, doc, (at) =>
      choices.packsWay.has(conflictKey(key, at)),
    );
    if (differences.length === 0) continue;
    const read = ENTRY_SCHEMA[kind].safeParse(merged, { error: inWords });
    if (!read.success) {
      for (const issue of read.error.issues)
        problems.push({ at: `${key}, ${issue.path.join(".")}`, says: issue.message });
      continue;
    }
    writes.push({ kind, id, doc: read.data });
    whole.set(key, { kind, id, doc: read.data });
  }
  for (const key of choices.out) {
    const own = whole.get(key);
    if (!own) continue;
    writes.push({ kind: own.kind, id: own.id, doc: null });
    whole.delete(key);
  }
  const after = catalogueOf([...whole.values()]);
  problems.push(...checkReferences(after).map((p) => ({ ...p, at: placeIn(after, p.at) })));
  return problems.length ? { ok: false, problems } : { ok: true, writes };
}

function catalogueOf(entries: readonly PackEntry[]): Catalogue {
  const of = <T>(kind: PackKind) => entries.filter((e) => e.kind === kind).map((e) => e.doc as T);
  return { models: of("model"), images: of("image"), needs: of("need"), incompatible: of("incompatible") };
}

/** `images[3].models[0]` with the entry's name in place of a number that nobody sees. */
function placeIn(catalogue: Catalogue, at: string): string {
  return at.replace(/^(models|images|needs|incompatible)\[(\d+)\]/, (_all, list: keyof Catalogue, n) =>
    entryId(catalogue[list][Number(n)]),
  );
}

/** Which entries a pack is to hold. */
export interface PackWish {
  readonly title: string;
  readonly kinds: ReadonlySet<PackKind>;
  /** Only these models, with the images made for them; null for all. */
  readonly models: ReadonlySet<string> | null;
  /** Images that are made for no model in particular too. */
  readonly generic: boolean;
  /** Only this image or need; null for all. */
  readonly only: string | null;
}

/**
 * Cuts a pack out of the catalogue.
 *
 * @example packOf(catalogue, { title: "Tablets", kinds: new Set(["model"]), … }).models.length // 3
 */
export function packOf(catalogue: Catalogue, wish: PackWish): Pack {
  const chosen = <T extends { id: string }>(kind: PackKind, list: readonly T[]) =>
    wish.kinds.has(kind) ? list.filter((e) => wish.only === null || e.id === wish.only) : [];
  const { models } = wish;
  const images = chosen("image", catalogue.images).filter((i) =>
    i.models.length === 0 ? wish.generic : models === null || i.models.some((m) => models.has(m)),
  );
  const held = new Set(images.map((i) => i.id));
  return {
    ...PACK_HEAD,
    title: wish.title,
    models: chosen("model", catalogue.models).filter((m) => models === null || models.has(m.id)),
    images,
    needs: chosen("need", catalogue.needs),
    // A pair says something only beside both of its images.
    incompatible: wish.kinds.has("incompatible")
      ? catalogue.incompatible.filter((p) => (held.has(p.a) && held.has(p.b)) || !wish.kinds.has("image"))
      : [],
  };
}
