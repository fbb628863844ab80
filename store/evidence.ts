import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

export interface EvidenceRow extends Hand {
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
const ofDevice = query<{ device: number }, EvidenceRow>(`
  SELECT ${columns} FROM evidence WHERE device = @device ORDER BY id
`);
const all = query<object, EvidenceRow>(`SELECT ${columns} FROM evidence ORDER BY device, id`);
const one = queryOne<{ id: number }, EvidenceRow>(`SELECT ${columns} FROM evidence WHERE id = @id`);
const insert = change<Omit<EvidenceRow, "id" | "removed">>(`
  INSERT INTO evidence (device, digest, name, type, bytes, at, by)
  VALUES (@device, @digest, @name, @type, @bytes, @at, @by)
`);
const mark = change<{ id: number; at: string }>(`UPDATE evidence SET removed = @at WHERE id = @id AND removed IS NULL`);
const others = queryOne<{ digest: string }, { n: number }>(`
  SELECT count(*) AS n FROM evidence WHERE digest = @digest AND removed IS NULL
`);

export const evidenceOf = (store: Store, device: number) => ofDevice(store, { device });
export const allEvidence = (store: Store) => all(store, {});
export const findEvidence = (store: Store, id: number) => one(store, { id });
export const addEvidence = (store: Store, evidence: Omit<EvidenceRow, "id" | "removed">) =>
  Number(insert(store, evidence).lastInsertRowid);

/** Marks an entry as taken away. @returns true when no other entry needs the file: it can be deleted then */
export function removeEvidence(store: Store, evidence: EvidenceRow, at: string): boolean {
  return inTransaction(store, () => {
    mark(store, { id: evidence.id, at });
    return (others(store, { digest: evidence.digest })?.n ?? 0) === 0;
  });
}
