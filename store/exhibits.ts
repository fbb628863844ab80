import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

/** A photo or paper that is kept with a case; its table bears the name it was first given. What is *said* of a case is its evidence. */
export interface Exhibit extends Hand {
  readonly id: number;
  readonly device: number;
  /** SHA-256 of the file, lower-case hexadecimal: its name on the disk. */
  readonly digest: string;
  readonly name: string;
  readonly type: string;
  readonly bytes: number;
  /** When the file was taken away; the entry stays. */
  readonly removed: string | null;
}

const columns = "id, device, digest, name, type, bytes, removed, at, by";
const ofDevice = query<{ device: number }, Exhibit>(`
  SELECT ${columns} FROM evidence WHERE device = @device ORDER BY id
`);
const all = query<object, Exhibit>(`SELECT ${columns} FROM evidence ORDER BY device, id`);
const one = queryOne<{ id: number }, Exhibit>(`SELECT ${columns} FROM evidence WHERE id = @id`);
const insert = change<Omit<Exhibit, "id" | "removed">>(`
  INSERT INTO evidence (device, digest, name, type, bytes, at, by)
  VALUES (@device, @digest, @name, @type, @bytes, @at, @by)
`);
const mark = change<{ id: number; at: string }>(`UPDATE evidence SET removed = @at WHERE id = @id AND removed IS NULL`);
const others = queryOne<{ digest: string }, { n: number }>(`
  SELECT count(*) AS n FROM evidence WHERE digest = @digest AND removed IS NULL
`);

export const exhibitsOf = (store: Store, device: number) => ofDevice(store, { device });
export const allExhibits = (store: Store) => all(store, {});
export const findExhibit = (store: Store, id: number) => one(store, { id });
export const addExhibit = (store: Store, exhibit: Omit<Exhibit, "id" | "removed">) =>
  Number(insert(store, exhibit).lastInsertRowid);

/** Marks an entry as taken away. @returns true when no other entry needs the file: it can be deleted then */
export function removeExhibit(store: Store, exhibit: Exhibit, at: string): boolean {
  return inTransaction(store, () => {
    mark(store, { id: exhibit.id, at });
    return (others(store, { digest: exhibit.digest })?.n ?? 0) === 0;
  });
}
