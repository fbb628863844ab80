import { change, queryOne, type Store } from "./database";

export interface FormSeen {
  readonly ended: 0 | 1;
  readonly leads_to: string | null;
}

const insert = change<{ mark: string; at: string }>(`
  INSERT INTO form_seen (mark, at) VALUES (@mark, @at) ON CONFLICT (mark) DO NOTHING
`);
const end = change<{ mark: string; leads_to: string | null }>(`
  UPDATE form_seen SET ended = 1, leads_to = @leads_to WHERE mark = @mark AND ended = 0
`);
const free = change<{ mark: string }>(`DELETE FROM form_seen WHERE mark = @mark AND ended = 0`);
const one = queryOne<{ mark: string }, FormSeen>(`SELECT ended, leads_to FROM form_seen WHERE mark = @mark`);
const sweep = change<{ before: string }>(`DELETE FROM form_seen WHERE at < @before`);

/** Takes a form's mark. @returns false when it is taken already */
export const beginForm = (store: Store, mark: string, at: string): boolean => insert(store, { mark, at }).changes === 1;

export const formSeen = (store: Store, mark: string) => one(store, { mark });

/** Keeps how a form ended; one that was refused may be sent again. */
export function endForm(store: Store, mark: string, done: boolean, leads_to: string | null) {
  if (done) end(store, { mark, leads_to });
  else free(store, { mark });
}

export const sweepForms = (store: Store, before: string) => sweep(store, { before });
