import { Catalogue, type CatalogueProblem, checkReferences, Incompatible } from "~/core/catalogue/catalogue";
import { Image } from "~/core/catalogue/image";
import { Model } from "~/core/catalogue/model";
import { Need } from "~/core/catalogue/need";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";

type Kind = "model" | "image" | "need";

interface DocRow {
  readonly id: string;
  readonly doc: string;
}

const allOf: Record<Kind, (store: Store, params: object) => DocRow[]> = {
  model: query<object, DocRow>(`SELECT id, doc FROM model ORDER BY id`),
  image: query<object, DocRow>(`SELECT id, doc FROM image ORDER BY id`),
  need: query<object, DocRow>(`SELECT id, doc FROM need ORDER BY id`),
};

const put: Record<Kind, (store: Store, params: DocRow) => unknown> = {
  model: change<DocRow>(
    `INSERT INTO model (id, doc) VALUES (@id, @doc) ON CONFLICT (id) DO UPDATE SET doc = excluded.doc, version = version + 1`,
  ),
  image: change<DocRow>(
    `INSERT INTO image (id, doc) VALUES (@id, @doc) ON CONFLICT (id) DO UPDATE SET doc = excluded.doc, version = version + 1`,
  ),
  need: change<DocRow>(
    `INSERT INTO need (id, doc) VALUES (@id, @doc) ON CONFLICT (id) DO UPDATE SET doc = excluded.doc, version = version + 1`,
  ),
};

const takeOut: Record<Kind, (store: Store, params: { id: string }) => unknown> = {
  model: change<{ id: string }>(`DELETE FROM model WHERE id = @id`),
  image: change<{ id: string }>(`DELETE FROM image WHERE id = @id`),
  need: change<{ id: string }>(`DELETE FROM need WHERE id = @id`),
};

const allPairs = query<object, { doc: string }>(`SELECT doc FROM incompatible ORDER BY a, b`);
const clearPairs = change<object>(`DELETE FROM incompatible`);
const dropPair = change<{ a: string; b: string }>(
  `DELETE FROM incompatible WHERE (a = @a AND b = @b) OR (a = @b AND b = @a)`,
);
const addPair = change<{ a: string; b: string; doc: string }>(
  `INSERT INTO incompatible (a, b, doc) VALUES (@a, @b, @doc)`,
);

const record = change<{ kind: string; entry: string; doc: string | null } & Hand>(`
  INSERT INTO catalogue_change (kind, entry, doc, at, by)
  VALUES (@kind, @entry, @doc, @at, @by)
`);

const revisions = query<object, { topic: string; n: number }>(`SELECT topic, n FROM revision`);

const usedNeeds = query<object, { need: string }>(`SELECT DISTINCT need FROM device WHERE need IS NOT NULL`);

/** The whole catalogue, checked against its schemas as it is read. */
export function readCatalogueRows(store: Store): Catalogue {
  return Catalogue.parse({
    format: "upshift-lane-catalogue",
    version: 1,
    models: allOf.model(store, {}).map((r) => Model.parse(JSON.parse(r.doc))),
    images: allOf.image(store, {}).map((r) => Image.parse(JSON.parse(r.doc))),
    needs: allOf.need(store, {}).map((r) => Need.parse(JSON.parse(r.doc))),
    incompatible: allPairs(store, {}).map((r) => Incompatible.parse(JSON.parse(r.doc))),
  });
}

export interface CatalogueDifference {
  readonly kind: Kind | "incompatible";
  readonly id: string;
  readonly is: "new" | "changed" | "gone";
}

/** What would change if a catalogue replaced the one that is here. */
export function compareCatalogue(store: Store, next: Catalogue): CatalogueDifference[] {
  const differences: CatalogueDifference[] = [];
  for (const [kind, entries] of byKind(next)) {
    const here = new Map(allOf[kind](store, {}).map((r) => [r.id, r.doc]));
    for (const entry of entries) {
      const doc = here.get(entry.id);
      if (doc === undefined) differences.push({ kind, id: entry.id, is: "new" });
      else if (doc !== JSON.stringify(entry)) differences.push({ kind, id: entry.id, is: "changed" });
      here.delete(entry.id);
    }
    for (const id of here.keys()) differences.push({ kind, id, is: "gone" });
  }
  const pairs = (list: readonly Incompatible[]) =>
    JSON.stringify([...list].sort((a, b) => (a.a + a.b < b.a + b.b ? -1 : 1)));
  if (pairs(next.incompatible) !== pairs(allPairs(store, {}).map((r) => JSON.parse(r.doc))))
    differences.push({ kind: "incompatible", id: "pairs", is: "changed" });
  return differences;
}

const byKind = (c: Catalogue) =>
  [
    ["model", c.models],
    ["image", c.images],
    ["need", c.needs],
  ] as const;

/**
 * Replaces the catalogue by another, as one transaction; every entry that changes is written to the history.
 *
 * @throws Error when a need that devices wait for would vanish
 */
export function replaceCatalogue(store: Store, next: Catalogue, hand: Hand): CatalogueDifference[] {
  const differences = compareCatalogue(store, next);
  const used = new Set(usedNeeds(store, {}).map((r) => r.need));
  const lost = differences.find((d) => d.kind === "need" && d.is === "gone" && used.has(d.id));
  if (lost)
    throw new Error(
      `Devices are planned for the need “${lost.id}”, which this file does not have. Add it to the file, or give those devices another need first`,
    );
  store.transaction(() => {
    for (const [kind, entries] of byKind(next)) {
      const moved = new Map(differences.filter((d) => d.kind === kind).map((d) => [d.id, d.is]));
      for (const entry of entries) {
        if (!moved.has(entry.id)) continue;
        const doc = JSON.stringify(entry);
        put[kind](store, { id: entry.id, doc });
        record(store, { kind, entry: entry.id, doc, ...hand });
      }
      for (const [id, is] of moved)
        if (is === "gone") {
          takeOut[kind](store, { id });
          record(store, { kind, entry: id, doc: null, ...hand });
        }
    }
    if (differences.some((d) => d.kind === "incompatible")) {
      clearPairs(store, {});
      for (const pair of next.incompatible) {
        addPair(store, { a: pair.a, b: pair.b, doc: JSON.stringify(pair) });
        record(store, { kind: "incompatible", entry: `${pair.a} ${pair.b}`, doc: JSON.stringify(pair), ...hand });
      }
    }
  })();
  return differences;
}

/** Counters that move with the catalogue, with the policy, and with anything written about a device. */
export function readRevisions(store: Store): {
  readonly catalogue: number;
  readonly policy: number;
  readonly lane: number;
} {
  const rows = new Map(revisions(store, {}).map((r) => [r.topic, r.n]));
  return { catalogue: rows.get("catalogue") ?? 0, policy: rows.get("policy") ?? 0, lane: rows.get("lane") ?? 0 };
}

const changesOf = query<{ kind: string; entry: string }, { doc: string | null; at: string; by: string }>(`
  SELECT doc, at, by
  FROM   catalogue_change
  WHERE  kind = @kind AND entry = @entry
  ORDER  BY id DESC
`);

/** History of one catalogue entry, newest first. */
export function catalogueHistory(store: Store, kind: Kind, entry: string) {
  return changesOf(store, { kind, entry });
}

/** Schema of each kind of entry that is kept under an id. */
const SCHEMA = { model: Model, image: Image, need: Need } as const;
export type EntryKind = keyof typeof SCHEMA;
export type Entry = Model | Image | Need;

const versionOf = {
  model: queryOne<{ id: string }, { doc: string; version: number }>(`SELECT doc, version FROM model WHERE id = @id`),
  image: queryOne<{ id: string }, { doc: string; version: number }>(`SELECT doc, version FROM image WHERE id = @id`),
  need: queryOne<{ id: string }, { doc: string; version: number }>(`SELECT doc, version FROM need WHERE id = @id`),
};

/** Version of an entry, for an edit that wants to know whether somebody was faster; 0 where there is none. */
export const entryVersion = (store: Store, kind: EntryKind, id: string): number =>
  versionOf[kind](store, { id })?.version ?? 0;

/** An edit that would leave the catalogue with names that point nowhere. */
export class CatalogueRefused extends Error {
  constructor(readonly problems: readonly CatalogueProblem[]) {
    super(problems.map((p) => `${p.says} (${p.at})`).join("; "));
    this.name = "CatalogueRefused";
  }
}

/** Throws when a change has left names that point nowhere; the transaction around it is rolled back. */
function checkWhole(store: Store) {
  const problems = checkReferences(readCatalogueRows(store));
  if (problems.length) throw new CatalogueRefused(problems.slice(0, 10));
}

/**
 * Writes an entry, with its history.
 *
 * @param expected version that the edit rests on; 0 for a new one
 * @throws StaleEdit when the entry has another version by now, or is there already
 * @throws CatalogueRefused when names would point nowhere
 */
export function saveEntry(store: Store, kind: EntryKind, entry: Entry, expected: number, hand: Hand) {
  const doc = JSON.stringify(SCHEMA[kind].parse(entry));
  store.transaction(() => {
    const version = entryVersion(store, kind, entry.id);
    if (version !== expected)
      throw new StaleEdit(expected === 0 ? `There is a ${kind} ${entry.id} already; it` : entry.id);
    put[kind](store, { id: entry.id, doc });
    record(store, { kind, entry: entry.id, doc, ...hand });
    checkWhole(store);
  })();
}

/**
 * Takes an entry out, with its history.
 *
 * @throws CatalogueRefused when another entry names it, or devices wait for the need
 */
export function removeEntry(store: Store, kind: EntryKind, id: string, expected: number, hand: Hand) {
  store.transaction(() => {
    if (entryVersion(store, kind, id) !== expected) throw new StaleEdit(id);
    if (kind === "need" && usedNeeds(store, {}).some((r) => r.need === id))
      throw new CatalogueRefused([{ at: id, says: "Devices are planned for it: give them another need first" }]);
    takeOut[kind](store, { id });
    record(store, { kind, entry: id, doc: null, ...hand });
    checkWhole(store);
  })();
}

/**
 * Puts an entry back to what it was before its last change; the change stays in the history, and this one is added to it.
 *
 * @returns what was done, in words; null when there is nothing before
 * @throws CatalogueRefused when what it was no longer fits the rest
 */
export function undoEntry(store: Store, kind: EntryKind, id: string, expected: number, hand: Hand): string | null {
  const [, before] = changesOf(store, { kind, entry: id });
  if (!before) return null;
  if (before.doc === null) {
    removeEntry(store, kind, id, expected, hand);
    return `${id} is gone again, as before`;
  }
  saveEntry(store, kind, SCHEMA[kind].parse(JSON.parse(before.doc)), expected, hand);
  return `${id} is again as it was on ${before.at.slice(0, 10)}`;
}

/**
 * Writes a pair of images that do not work together, or takes it out.
 *
 * @throws CatalogueRefused when an image is not there
 */
export function savePair(store: Store, pair: Incompatible, hand: Hand) {
  const doc = JSON.stringify(Incompatible.parse(pair));
  store.transaction(() => {
    dropPair(store, { a: pair.a, b: pair.b });
    const missing = [pair.a, pair.b].filter((id) => entryVersion(store, "image", id) === 0);
    if (missing.length)
      throw new CatalogueRefused(missing.map((id) => ({ at: "pair", says: `There is no image “${id}”` })));
    addPair(store, { a: pair.a, b: pair.b, doc });
    record(store, { kind: "incompatible", entry: `${pair.a} ${pair.b}`, doc, ...hand });
  })();
}

export function removePair(store: Store, a: string, b: string, hand: Hand) {
  store.transaction(() => {
    dropPair(store, { a, b });
    record(store, { kind: "incompatible", entry: `${a} ${b}`, doc: null, ...hand });
  })();
}
