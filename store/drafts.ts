import { change, type Hand, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

export type DraftState = "running" | "done" | "stopped" | "failed";
export interface DraftRow extends Hand {
  readonly state: DraftState;
  readonly doc: string;
  /** Which asking it answers: an answer to an older one is thrown away. */
  readonly version: number;
}

/** What is worked out beside the pages and looked at before or while it counts: one row, written over. */
export interface Drafts {
  /** What stands; undefined when there is none. */
  readonly read: (store: Store) => DraftRow | undefined;
  /** Begins a new one in the place of the old one. @returns its version */
  readonly begin: (store: Store, state: DraftState, doc: string, hand: Hand) => number;
  /** Writes what was found so far. @returns false when it was stopped, or another one was begun meanwhile */
  readonly write: (store: Store, state: DraftState, doc: string, version: number) => boolean;
  /** Leaves it as it is so far. @returns false when nothing was being worked out */
  readonly halt: (store: Store) => boolean;
  /** Whoever worked at it is gone with the lane: it broke off. */
  readonly lose: (store: Store) => void;
  readonly forget: (store: Store) => void;
}

function draftsIn(table: "division_draft" | "timetable"): Drafts {
  const read = queryOne<object, DraftRow>(`SELECT state, doc, version, at, by FROM ${table} WHERE id = 1`);
  const put = change<DraftRow>(`
    INSERT INTO ${table} (id, state, doc, version, at, by) VALUES (1, @state, @doc, @version, @at, @by)
    ON CONFLICT (id) DO UPDATE SET state = @state, doc = @doc, version = @version, at = @at, by = @by
  `);
  const update = change<{ state: DraftState; doc: string; version: number }>(`
    UPDATE ${table} SET state = @state, doc = @doc WHERE id = 1 AND version = @version AND state = 'running'
  `);
  const end = change<{ state: DraftState }>(`UPDATE ${table} SET state = @state WHERE id = 1 AND state = 'running'`);
  const drop = change<object>(`DELETE FROM ${table} WHERE id = 1`);
  return {
    read: (store) => read(store, {}),
    begin: (store, state, doc, hand) =>
      inTransaction(store, () => {
        const version = (read(store, {})?.version ?? 0) + 1;
        put(store, { state, doc, version, ...hand });
        return version;
      }),
    write: (store, state, doc, version) => update(store, { state, doc, version }).changes === 1,
    halt: (store) => end(store, { state: "stopped" }).changes === 1,
    lose: (store) => {
      end(store, { state: "failed" });
    },
    forget: (store) => {
      drop(store, {});
    },
  };
}

export const divisionDrafts = draftsIn("division_draft");
export const timetables = draftsIn("timetable");
