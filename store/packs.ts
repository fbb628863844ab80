import { type Catalogue, PACK_HEAD } from "~/core/catalogue/catalogue";
import {
  applyPack,
  comparePack,
  ENTRY_SCHEMA,
  entriesOf,
  entryKey,
  type PackChoices,
  type PackEntry,
  type PackKind,
  type Said,
  type Titled,
  usualChoices,
} from "~/core/catalogue/packs";
import { CatalogueRefused, checkWhole, readCatalogueRows, writeEntry } from "./catalogue";
import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

export interface PackRow extends Hand {
  readonly id: number;
  readonly title: string;
  /** Name of the file it came in. */
  readonly name: string;
  readonly text: string;
  /** When and by whom it was taken in; null while it is not, or no more. */
  readonly taken: Hand | null;
}

type Raw = Omit<PackRow, "taken"> & { takenAt: string | null; takenBy: string | null };

const columns = (text: string) => `
  SELECT p.id, p.title, p.name, ${text} AS text, p.at, p.by, t.at AS takenAt, t.by AS takenBy
  FROM   pack p
  LEFT   JOIN pack_take t ON t.pack = p.id AND t.id NOT IN (SELECT take FROM pack_undo)
`;
const one = queryOne<{ id: number }, Raw>(`${columns("p.text")} WHERE p.id = @id`);
const newest = query<object, Raw>(`${columns("''")} ORDER BY p.id DESC LIMIT 20`);
const insert = change<{ title: string; name: string; text: string } & Hand>(
  `INSERT INTO pack (title, name, text, at, by) VALUES (@title, @name, @text, @at, @by)`,
);
const remove = change<{ id: number }>(
  `DELETE FROM pack WHERE id = @id AND NOT EXISTS (SELECT 1 FROM pack_take WHERE pack = @id)`,
);
const insertTake = change<{ pack: number } & Hand>(`INSERT INTO pack_take (pack, at, by) VALUES (@pack, @at, @by)`);
const insertUndo = change<{ take: number } & Hand>(`INSERT INTO pack_undo (take, at, by) VALUES (@take, @at, @by)`);
const insertSaid = change<{ take: number; kind: PackKind; entry: string; doc: string | null }>(
  `INSERT INTO pack_said (take, kind, entry, doc) VALUES (@take, @kind, @entry, @doc)`,
);
const lastSaid = query<object, { kind: PackKind; entry: string; doc: string | null; title: string }>(`
  SELECT s.kind, s.entry, s.doc, p.title
  FROM   pack_said s
  JOIN   pack_take t ON t.id = s.take
  JOIN   pack p ON p.id = t.pack
  WHERE  s.id IN (SELECT max(id) FROM pack_said
                  WHERE  take NOT IN (SELECT take FROM pack_undo)
                  GROUP  BY kind, entry)
  ORDER  BY s.kind, s.entry
`);
const standingTake = queryOne<{ pack: number }, { id: number }>(
  `SELECT id FROM pack_take WHERE pack = @pack AND id NOT IN (SELECT take FROM pack_undo)`,
);
/** What a taking changed: whether it is still the entry's newest change, and what stood there before. */
const changesOfTake = query<
  { take: number },
  { kind: PackKind; entry: string; doc: string | null; before: string | null; newest: 0 | 1 }
>(`
  SELECT c.kind, c.entry, c.doc,
         (SELECT b.doc FROM catalogue_change b
          WHERE  b.kind = c.kind AND b.entry = c.entry AND b.id < c.id ORDER BY b.id DESC LIMIT 1) AS before,
         NOT EXISTS (SELECT 1 FROM catalogue_change n
                     WHERE n.kind = c.kind AND n.entry = c.entry AND n.id > c.id)                AS newest
  FROM   catalogue_change c
  WHERE  c.take = @take
  ORDER  BY c.id
`);

const toPack = ({ takenAt, takenBy, ...raw }: Raw): PackRow => ({
  ...raw,
  taken: takenAt && takenBy ? { at: takenAt, by: takenBy } : null,
});

/** Keeps a pack that was brought in, to be looked at; nothing of the catalogue changes. */
export function addPack(store: Store, pack: { title: string; name: string; text: string }, hand: Hand): number {
  return Number(insert(store, { ...pack, ...hand }).lastInsertRowid);
}

export const findPack = (store: Store, id: number): PackRow | null => {
  const raw = one(store, { id });
  return raw ? toPack(raw) : null;
};

/** The packs that were brought in last, without their text. */
export const listPacks = (store: Store): PackRow[] => newest(store, {}).map(toPack);

/** Throws a pack away. One that was ever taken in stays: the history names it. */
export const dropPack = (store: Store, id: number): boolean => remove(store, { id }).changes === 1;

/** What packs said of each entry the last time; what no longer reads by today's schema counts as not said. */
export function readSaid(store: Store): Said {
  const said = new Map<string, PackEntry & { title: string }>();
  for (const { kind, entry, doc, title } of lastSaid(store, {})) {
    const read = doc === null ? null : ENTRY_SCHEMA[kind].safeParse(JSON.parse(doc));
    if (read?.success) said.set(entryKey(kind, entry), { title, kind, id: entry, doc: read.data });
  }
  return said;
}

/**
 * Takes a pack in as chosen, as one transaction with its history.
 *
 * @returns how many entries changed
 * @throws CatalogueRefused when the catalogue would not be whole afterwards, or the pack is in already
 */
export function takePack(store: Store, id: number, pack: Titled, choices: PackChoices, hand: Hand): number {
  return inTransaction(store, () => {
    if (standingTake(store, { pack: id }))
      throw new CatalogueRefused([{ at: pack.title, says: "This pack is taken in already" }]);
    const said = readSaid(store);
    const applied = applyPack(readCatalogueRows(store), pack, said, choices);
    if (!applied.ok) throw new CatalogueRefused(applied.problems.slice(0, 10));
    const take = Number(insertTake(store, { pack: id, ...hand }).lastInsertRowid);
    for (const write of applied.writes) writeEntry(store, write, hand, take);
    // What was left out was looked at too: the next pack does not press it on anybody.
    const held = entriesOf(pack);
    for (const { kind, id: entry, doc } of held.values())
      insertSaid(store, { take, kind, entry, doc: JSON.stringify(doc) });
    for (const [key, { title, kind, id: entry }] of said)
      if (title === pack.title && !held.has(key)) insertSaid(store, { take, kind, entry, doc: null });
    return applied.writes.length;
  });
}

/** The entries that a pack which is taken in has changed, and those it took out. */
export function changedByPack(store: Store, id: number): { kind: PackKind; entry: string; out: boolean }[] {
  const take = standingTake(store, { pack: id })?.id ?? -1;
  return changesOfTake(store, { take }).map(({ kind, entry, doc }) => ({ kind, entry, out: doc === null }));
}

/**
 * Takes back what a pack changed; what was changed since stays in the way and is named.
 *
 * @returns how many entries went back
 * @throws CatalogueRefused when entries were changed since, or something else needs what the pack brought
 */
export function undoPack(store: Store, id: number, hand: Hand): number {
  return inTransaction(store, () => {
    const take = standingTake(store, { pack: id })?.id;
    if (take === undefined) throw new CatalogueRefused([{ at: "pack", says: "It is not taken in" }]);
    const changes = changesOfTake(store, { take });
    const since = changes.filter((c) => !c.newest);
    if (since.length)
      throw new CatalogueRefused(
        since
          .slice(0, 10)
          .map((c) => ({ at: `${c.kind} ${c.entry}`, says: "It was changed since: take that back first" })),
      );
    insertUndo(store, { take, ...hand });
    for (const { kind, entry, before } of changes)
      writeEntry(store, { kind, id: entry, doc: before === null ? null : JSON.parse(before) }, hand);
    checkWhole(store);
    return changes.length;
  });
}

/** Brings a catalogue in as a pack and takes it as it usually is, in one go: for demo data, benches and tests. */
export function loadPack(store: Store, catalogue: Catalogue, hand: Hand, title = "Catalogue"): number {
  const pack = { ...catalogue, title };
  const text = JSON.stringify({ ...PACK_HEAD, ...pack });
  const id = addPack(store, { title, name: "catalogue.json", text }, hand);
  return takePack(store, id, pack, usualChoices(comparePack(readCatalogueRows(store), pack, readSaid(store))), hand);
}
