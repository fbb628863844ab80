import { change, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

export type RegisterState = "waiting" | "clear" | "hit" | "given-up";

export interface RegisterRow {
  readonly id: number;
  readonly device: number;
  readonly state: RegisterState;
  readonly attempts: number;
  /** When it is tried next, while it waits. */
  readonly next_at: string;
  readonly says: string;
  readonly at: string;
}

const columns = "id, device, state, attempts, next_at, says, at";
const newestOf = queryOne<{ device: number }, RegisterRow>(`
  SELECT ${columns} FROM register_check WHERE device = @device ORDER BY id DESC LIMIT 1
`);
const newestOfAll = query<object, RegisterRow>(`
  SELECT ${columns} FROM register_check r WHERE id = (SELECT max(id) FROM register_check WHERE device = r.device)
`);
const due = query<{ now: string; limit: number }, RegisterRow>(`
  SELECT ${columns} FROM register_check WHERE state = 'waiting' AND next_at <= @now ORDER BY next_at, id LIMIT @limit
`);
const insert = change<{ device: number; at: string }>(`
  INSERT INTO register_check (device, state, next_at, at) VALUES (@device, 'waiting', @at, @at)
`);
const update = change<Pick<RegisterRow, "id" | "state" | "attempts" | "next_at" | "says" | "at">>(`
  UPDATE register_check SET state = @state, attempts = @attempts, next_at = @next_at, says = @says, at = @at
  WHERE  id = @id
`);

export const registerOf = (store: Store, device: number) => newestOf(store, { device }) ?? null;
export const registerStates = (store: Store) => new Map(newestOfAll(store, {}).map((row) => [row.device, row]));

/** Checks whose turn has come. */
export const dueChecks = (store: Store, now: string, limit: number) => due(store, { now, limit });

/** Puts devices into the queue; those that wait there already stay where they are. @returns how many were put in */
export function queueChecks(store: Store, devices: readonly number[], at: string): number {
  return inTransaction(store, () => {
    const waiting = devices.filter((device) => newestOf(store, { device })?.state !== "waiting");
    for (const device of waiting) insert(store, { device, at });
    return waiting.length;
  });
}

/** Writes what came of an attempt. */
export const saveCheck = (
  store: Store,
  check: Pick<RegisterRow, "id" | "state" | "attempts" | "next_at" | "says" | "at">,
) => update(store, check);
