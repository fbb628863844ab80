import type { Role } from "~/core/access/roles";
import { change, type Hand, query, queryOne, type Store } from "./database";
import { endSessionsOf } from "./sessions";
import { inTransaction } from "./transaction";

export interface AccountRow {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  /** Argon2id in the PHC string format. */
  readonly password: string;
  readonly closed: string | null;
  readonly at: string;
}

const columns = "id, name, role, password, closed, at";
const all = query<object, AccountRow>(`SELECT ${columns} FROM account ORDER BY closed IS NOT NULL, name`);
const byName = queryOne<{ name: string }, AccountRow>(`SELECT ${columns} FROM account WHERE name = @name`);
const byId = queryOne<{ id: number }, AccountRow>(`SELECT ${columns} FROM account WHERE id = @id`);
const some = queryOne<object, { there: number }>(`SELECT 1 AS there FROM account LIMIT 1`);
const insert = change<{ name: string; role: Role; password: string; at: string }>(`
  INSERT INTO account (name, role, password, at) VALUES (@name, @role, @password, @at)
`);
const setRole = change<{ id: number; role: Role }>(`UPDATE account SET role = @role WHERE id = @id`);
const setPassword = change<{ id: number; password: string }>(`UPDATE account SET password = @password WHERE id = @id`);
const setClosed = change<{ id: number; closed: string | null }>(`UPDATE account SET closed = @closed WHERE id = @id`);
const leads = queryOne<object, { n: number }>(`
  SELECT count(*) AS n FROM account WHERE role = 'coordinator' AND closed IS NULL
`);
const note = change<{ name: string; what: string } & Hand>(`
  INSERT INTO account_change (name, what, at, by) VALUES (@name, @what, @at, @by)
`);
const notes = query<object, { name: string; what: string } & Hand>(`
  SELECT name, what, at, by FROM account_change ORDER BY id DESC LIMIT 30
`);

/** Whether any account was ever made: from then on everybody signs in, also when all are closed. */
export const hasAccounts = (store: Store): boolean => some(store, {}) !== undefined;
export const listAccounts = (store: Store) => all(store, {});
export const findAccount = (store: Store, name: string) => byName(store, { name });
export const accountById = (store: Store, id: number) => byId(store, { id });
export const accountHistory = (store: Store) => notes(store, {});

/** Makes an account. @returns what is wrong in words, or null */
export function addAccount(
  store: Store,
  account: { readonly name: string; readonly role: Role; readonly password: string },
  hand: Hand,
): string | null {
  return inTransaction(store, () => {
    if (byName(store, { name: account.name })) return `There is an account “${account.name}” already`;
    insert(store, { ...account, at: hand.at });
    note(store, { name: account.name, what: `made, as ${account.role}`, ...hand });
    return null;
  });
}

/** What may be done to an account; each ends its sessions, so that it holds at once. */
export type AccountChange =
  | { readonly what: "role"; readonly role: Role }
  | { readonly what: "password"; readonly password: string }
  | { readonly what: "close" }
  | { readonly what: "reopen" };

/** Changes an account. The last coordinator stays. @returns what is wrong in words, or null */
export function changeAccount(store: Store, id: number, wish: AccountChange, hand: Hand): string | null {
  return inTransaction(store, () => {
    const account = byId(store, { id });
    if (!account) return "There is no such account any more. Reload the page";
    const loses = wish.what === "close" || (wish.what === "role" && wish.role !== "coordinator");
    if (loses && account.role === "coordinator" && !account.closed && (leads(store, {})?.n ?? 0) < 2)
      return "This is the last coordinator: make another one first";
    if (wish.what === "role") setRole(store, { id, role: wish.role });
    if (wish.what === "password") setPassword(store, { id, password: wish.password });
    if (wish.what === "close") setClosed(store, { id, closed: hand.at });
    if (wish.what === "reopen") setClosed(store, { id, closed: null });
    const says = {
      role: `role changed to ${wish.what === "role" ? wish.role : ""}`,
      password: "password changed",
      close: "closed",
      reopen: "opened again",
    };
    note(store, { name: account.name, what: says[wish.what], ...hand });
    endSessionsOf(store, id, hand.at);
    return null;
  });
}
