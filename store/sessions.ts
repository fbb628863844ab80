import type { Role } from "~/core/access/roles";
import { change, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

export interface SessionRow {
  readonly id: number;
  /** null: a volunteer's own phone, let in for an evening. */
  readonly account: number | null;
  readonly name: string;
  readonly role: Role;
  readonly agent: string;
  readonly begun: string;
  readonly seen: string;
  readonly expires: string;
}

const columns =
  "s.id, s.account, coalesce(a.name, s.name) AS name, coalesce(a.role, s.role) AS role, s.agent, s.begun, s.seen, s.expires";
const from = `FROM session s LEFT JOIN account a ON a.id = s.account
  WHERE s.ended IS NULL AND s.expires > @now AND (s.account IS NULL OR a.closed IS NULL)`;
const open = queryOne<{ digest: string; now: string }, SessionRow>(`SELECT ${columns} ${from} AND s.digest = @digest`);
const list = query<{ now: string }, SessionRow>(`SELECT ${columns} ${from} ORDER BY s.seen DESC`);
const insert = change<Omit<SessionRow, "id"> & { digest: string }>(`
  INSERT INTO session (digest, account, name, role, agent, begun, seen, expires)
  VALUES (@digest, @account, @name, @role, @agent, @begun, @seen, @expires)
`);
const touch = change<{ id: number; seen: string }>(`UPDATE session SET seen = @seen WHERE id = @id`);
const end = change<{ id: number; at: string }>(`UPDATE session SET ended = @at WHERE id = @id AND ended IS NULL`);
const endOf = change<{ account: number; at: string }>(`
  UPDATE session SET ended = @at WHERE account = @account AND ended IS NULL
`);

/** The session that a digest opens, if it is still open. */
export const openSession = (store: Store, digest: string, now: string) => open(store, { digest, now });
export const listSessions = (store: Store, now: string) => list(store, { now });
export const addSession = (store: Store, session: Omit<SessionRow, "id"> & { digest: string }) =>
  insert(store, session);
export const touchSession = (store: Store, id: number, seen: string) => touch(store, { id, seen });
export const endSession = (store: Store, id: number, at: string) => end(store, { id, at });
/** Ends all sessions of an account. */
export const endSessionsOf = (store: Store, account: number, at: string) => endOf(store, { account, at });

const invite = change<{ digest: string; name: string; role: Role; until: string; expires: string }>(`
  INSERT INTO invitation (digest, name, role, until, expires) VALUES (@digest, @name, @role, @until, @expires)
`);
const invited = queryOne<{ digest: string; now: string }, { name: string; role: Role; until: string }>(`
  SELECT name, role, until FROM invitation WHERE digest = @digest AND used IS NULL AND expires > @now
`);
const use = change<{ digest: string; at: string }>(
  `UPDATE invitation SET used = @at WHERE digest = @digest AND used IS NULL`,
);

export const addInvitation = (
  store: Store,
  invitation: { digest: string; name: string; role: Role; until: string; expires: string },
) => invite(store, invitation);
export const findInvitation = (store: Store, digest: string, now: string) => invited(store, { digest, now });

/** Turns an invitation into a session, once. @returns false when somebody was faster, or it has run out */
export function useInvitation(store: Store, digest: string, session: string, agent: string, now: string): boolean {
  return inTransaction(store, () => {
    const found = invited(store, { digest, now });
    if (!found || use(store, { digest, at: now }).changes === 0) return false;
    const { name, role, until } = found;
    insert(store, { digest: session, account: null, name, role, agent, begun: now, seen: now, expires: until });
    return true;
  });
}

const fail = change<{ name: string; address: string; at: string }>(`
  INSERT INTO sign_in_failure (name, address, at) VALUES (@name, @address, @at)
`);
const failures = queryOne<{ name: string; address: string; since: string }, { name: number; address: number }>(`
  SELECT (SELECT count(*) FROM sign_in_failure WHERE name = @name AND at > @since)       AS name,
         (SELECT count(*) FROM sign_in_failure WHERE address = @address AND at > @since) AS address
`);
const forgive = change<{ name: string }>(`DELETE FROM sign_in_failure WHERE name = @name`);
const sweepFailures = change<{ before: string }>(`DELETE FROM sign_in_failure WHERE at < @before`);

/** Keeps a wrong password, and forgets what lies longer back than anybody is held up for. */
export function addFailure(store: Store, name: string, address: string, at: string, before: string) {
  sweepFailures(store, { before });
  fail(store, { name, address, at });
}
/** Wrong passwords for a name, and from an address, since a time. */
export const failuresSince = (store: Store, name: string, address: string, since: string) =>
  failures(store, { name, address, since }) ?? { name: 0, address: 0 };
export const forgiveFailures = (store: Store, name: string) => forgive(store, { name });
