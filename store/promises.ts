import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

/** What was promised to a group, as it was given. */
export interface PromiseRow extends Hand {
  readonly id: number;
  readonly grp: number;
  readonly count: number;
  readonly day: string;
  readonly chance: number;
  readonly sure: string | null;
  /** Why it was taken back; null while it stands. */
  readonly back: string | null;
  readonly back_at: string | null;
}

const every = query<object, PromiseRow>(`
  SELECT promise.id, grp, count, day, chance, sure, promise.at, promise.by, b.reason AS back, b.at AS back_at
  FROM   promise LEFT JOIN promise_back b ON b.promise = promise.id
  ORDER  BY promise.id
`);
const insert = change<Omit<PromiseRow, "id" | "back" | "back_at">>(`
  INSERT INTO promise (grp, count, day, chance, sure, at, by) VALUES (@grp, @count, @day, @chance, @sure, @at, @by)
`);
const insertDevice = change<{ promise: number; device: number }>(`
  INSERT INTO promise_device (promise, device) VALUES (@promise, @device)
`);
const insertBack = change<{ promise: number; reason: string } & Hand>(`
  INSERT INTO promise_back (promise, reason, at, by) VALUES (@promise, @reason, @at, @by)
`);
const isBack = queryOne<{ promise: number }, { id: number }>(`SELECT id FROM promise_back WHERE promise = @promise`);
const frozen = query<object, { device: number; grp: number }>(`
  SELECT DISTINCT d.device, p.grp
  FROM   promise_device d
  JOIN   promise p ON p.id = d.promise
  JOIN   waiting_group g ON g.id = p.grp AND g.closed = 0
  WHERE  NOT EXISTS (SELECT 1 FROM promise_back b WHERE b.promise = p.id)
  AND    p.id = (SELECT max(q.id) FROM promise q WHERE q.grp = p.grp)
  ORDER  BY d.device
`);

/** Every promise that was given, in their order, with what became of it where it was taken back. */
export const allPromises = (store: Store) => every(store, {});

/** Devices on which a standing promise rests, with the group that was promised them. */
export const frozenDevices = (store: Store) => frozen(store, {});

/** Appends a promise with the devices on which it rests. @returns its id */
export function addPromise(
  store: Store,
  promise: Omit<PromiseRow, "id" | "back" | "back_at">,
  devices: readonly number[],
): number {
  return inTransaction(store, () => {
    const id = Number(insert(store, promise).lastInsertRowid);
    for (const device of devices) insertDevice(store, { promise: id, device });
    return id;
  });
}

/** Notes that a promise was taken back. @returns false when it was already */
export function takePromiseBack(store: Store, promise: number, reason: string, hand: Hand): boolean {
  return inTransaction(store, () => {
    if (isBack(store, { promise })) return false;
    insertBack(store, { promise, reason, ...hand });
    return true;
  });
}
