import { DEFAULT_AIMS, type DivisionAims } from "~/core/allocate/aims";
import { change, type Hand, queryOne, type Store } from "./database";

const newest = queryOne<object, { id: number; doc: string } & Hand>(
  `SELECT id, doc, at, by FROM division_aims ORDER BY id DESC LIMIT 1`,
);
const insert = change<{ doc: string } & Hand>(`INSERT INTO division_aims (doc, at, by) VALUES (@doc, @at, @by)`);

/** What the house aims at when it divides, and which of its states that is. */
export function readAims(store: Store): { readonly aims: DivisionAims; readonly version: number } {
  const row = newest(store, {});
  return row ? { aims: JSON.parse(row.doc) as DivisionAims, version: row.id } : { aims: DEFAULT_AIMS, version: 0 };
}

/** Appends what the house aims at from now on. */
export const saveAims = (store: Store, aims: DivisionAims, hand: Hand) =>
  insert(store, { doc: JSON.stringify(aims), ...hand });
