import {
  type Catalogue,
  type CatalogueProblem,
  checkReferences,
  Incompatible,
  pairId,
} from "~/core/catalogue/catalogue";
import { Image } from "~/core/catalogue/image";
import { Model } from "~/core/catalogue/model";
import { Need } from "~/core/catalogue/need";
import { ENTRY_SCHEMA, type PackKind, type PackWrite } from "~/core/catalogue/packs";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";
import { inTransaction } from "./transaction";

/** Kinds of entry that are kept under an id of their own. */
export type EntryKind = "model" | "image" | "need";

interface DocRow {
  readonly id: string;
  readonly doc: string;
}

const allOf: Record<EntryKind, (store: Store, params: object) => DocRow[]> = {
  model: query<object, DocRow>(`SELECT id, doc FROM model ORDER BY id`),
  image: query<object, DocRow>(`SELECT id, doc FROM image ORDER BY id`),
  need: query<object, DocRow>(`SELECT id, doc FROM need ORDER BY id`),
};

const put: Record<EntryKind, (store: Store, params: DocRow) => unknown> = {
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

const takeOut: Record<EntryKind, (store: Store, params: { id: string }) => unknown> = {
  model: change<{ id: string }>(`DELETE FROM model WHERE id = @id`),
  image: change<{ id: string }>(`DELETE FROM image WHERE id = @id`),
  need: change<{ id: string }>(`DELETE FROM need WHERE id = @id`),
};

const allPairs = query<object, { doc: string }>(`SELECT doc FROM incompatible ORDER BY a, b`);
const dropPair = change<{ a: string; b: string }>(
  `DELETE FROM incompatible WHERE (a = @a AND b = @b) OR (a = @b AND b = @a)`,
);
const addPair = change<{ a: string; b: string; doc: string }>(
  `INSERT INTO incompatible (a, b, doc) VALUES (@a, @b, @doc)`,
);

const record = change<{ kind: PackKind; entry: string; doc: string | null; take: number | null } & Hand>(`
  INSERT INTO catalogue_change (kind, entry, doc, take, at, by)
  VALUES (@kind, @entry, @doc, @take, @at, @by)
`);

const revisions = query<object, { topic: string; n: number }>(`SELECT topic, n FROM revision`);

const usedNeeds = query<object, { need: string }>(`
  SELECT DISTINCT need FROM device WHERE need IS NOT NULL
  UNION SELECT need FROM waiting_group
`);

/** The whole catalogue, checked against its schemas as it is read. */
export function readCatalogueRows(store: Store): Catalogue {
  return {
    models: allOf.model(store, {}).map((r) => Model.parse(JSON.parse(r.doc))),
    images: allOf.image(store, {}).map((r) => Image.parse(JSON.parse(r.doc))),
    needs: allOf.need(store, {}).map((r) => Need.parse(JSON.parse(r.doc))),
    incompatible: allPairs(store, {}).map((r) => Incompatible.parse(JSON.parse(r.doc))),
  };
}

/**
 * Writes an entry or takes it out, with its history; to be called within a transaction that looks at the whole afterwards.
 *
 * @param take the taking of a pack that this belongs to, if any
 * @throws CatalogueRefused when devices wait for a need that is to go
 */
export function writeEntry(store: Store, { kind, id, doc }: PackWrite, hand: Hand, take: number | null = null) {
  const text = doc && JSON.stringify(ENTRY_SCHEMA[kind].parse(doc));
  if (kind === "incompatible") {
    const [a, b] = id.split(" ");
    dropPair(store, { a, b });
    if (text) addPair(store, { a, b, doc: text });
  } else if (text) put[kind](store, { id, doc: text });
  else {
    if (kind === "need" && usedNeeds(store, {}).some((r) => r.need === id))
      throw new CatalogueRefused([
        { at: id, says: "Devices are planned for it, or a group waits with it: give them another need first" },
      ]);
    takeOut[kind](store, { id });
  }
  record(store, { kind, entry: id, doc: text, take, ...hand });
}

/** Counters that move with the catalogue, with the policy, with anything written about a device, about who waits and who comes. */
export function readRevisions(store: Store): {
  readonly catalogue: number;
  readonly policy: number;
  readonly lane: number;
  readonly experience: number;
  readonly evenings: number;
} {
  const rows = new Map(revisions(store, {}).map((r) => [r.topic, r.n]));
  const of = (topic: string) => rows.get(topic) ?? 0;
  return {
    catalogue: of("catalogue"),
    policy: of("policy"),
    lane: of("lane"),
    experience: of("experience"),
    evenings: of("evenings"),
  };
}

const changesOf = query<{ kind: string; entry: string }, { doc: string | null; at: string; by: string }>(`
  SELECT doc, at, by
  FROM   catalogue_change
  WHERE  kind = @kind AND entry = @entry
  ORDER  BY id DESC
`);

/** History of one catalogue entry, newest first. */
export function catalogueHistory(store: Store, kind: EntryKind, entry: string) {
  return changesOf(store, { kind, entry });
}

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
export function checkWhole(store: Store) {
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
  inTransaction(store, () => {
    const version = entryVersion(store, kind, entry.id);
    if (version !== expected)
      throw new StaleEdit(expected === 0 ? `There is a ${kind} ${entry.id} already; it` : entry.id);
    writeEntry(store, { kind, id: entry.id, doc: entry }, hand);
    checkWhole(store);
  });
}

/**
 * Takes an entry out, with its history.
 *
 * @throws CatalogueRefused when another entry names it, or devices wait for the need
 */
export function removeEntry(store: Store, kind: EntryKind, id: string, expected: number, hand: Hand) {
  inTransaction(store, () => {
    if (entryVersion(store, kind, id) !== expected) throw new StaleEdit(id);
    writeEntry(store, { kind, id, doc: null }, hand);
    checkWhole(store);
  });
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
  saveEntry(store, kind, ENTRY_SCHEMA[kind].parse(JSON.parse(before.doc)), expected, hand);
  return `${id} is again as it was on ${before.at.slice(0, 10)}`;
}

/**
 * Writes a pair of images that do not work together, or takes it out.
 *
 * @throws CatalogueRefused when an image is not there
 */
export function savePair(store: Store, pair: Incompatible, hand: Hand) {
  inTransaction(store, () => {
    const missing = [pair.a, pair.b].filter((id) => entryVersion(store, "image", id) === 0);
    if (missing.length)
      throw new CatalogueRefused(missing.map((id) => ({ at: "pair", says: `There is no image “${id}”` })));
    writeEntry(store, { kind: "incompatible", id: pairId(pair), doc: pair }, hand);
  });
}

export function removePair(store: Store, a: string, b: string, hand: Hand) {
  inTransaction(store, () => writeEntry(store, { kind: "incompatible", id: pairId({ a, b }), doc: null }, hand));
}
