import { addDays, subMinutes } from "date-fns";
import { findAccount } from "~/store/accounts";
import type { Store } from "~/store/database";
import { addFailure, addSession, failuresSince, forgiveFailures } from "~/store/sessions";
import { digestOf, newSecret } from "./guest";
import { isPassword } from "./password";

/** Wrong passwords in this time count, minutes; so long one is held up. */
const HOLD = 15;
/** So many for a name, from wherever. */
const FOR_A_NAME = 5;
/** So many from an address, for whatever names. */
const FROM_AN_ADDRESS = 30;
/** Days a session lasts. */
const DAYS = 14;

export type SignedIn =
  | { readonly ok: true; readonly secret: string; readonly seconds: number }
  | { readonly ok: false; readonly status: number; readonly says: string };

/**
 * Signs somebody in. Too many wrong passwords hold a name and an address up, whether there is such an account or not.
 *
 * @source OWASP Authentication Cheat Sheet: one answer for a wrong name and a wrong password, and a limit on tries
 */
export async function signIn(
  store: Store,
  given: { readonly name: string; readonly password: string; readonly address: string; readonly agent: string },
  now: Date,
): Promise<SignedIn> {
  const since = subMinutes(now, HOLD).toISOString();
  const failed = failuresSince(store, given.name, given.address, since);
  if (failed.name >= FOR_A_NAME || failed.address >= FROM_AN_ADDRESS)
    return {
      ok: false,
      status: 429,
      says: `That was wrong too often. Wait ${HOLD} minutes, or ask a coordinator for a new password`,
    };
  const account = findAccount(store, given.name);
  const usable = account && !account.closed ? account : null;
  // Counted before it is looked at: many tries at once count one by one.
  addFailure(store, given.name, given.address, now.toISOString(), since);
  if (!(await isPassword(usable?.password ?? null, given.password)) || !usable)
    return { ok: false, status: 401, says: "That name and password do not go together" };
  forgiveFailures(store, given.name);
  const secret = newSecret();
  const until = addDays(now, DAYS);
  const at = now.toISOString();
  addSession(store, {
    digest: digestOf(secret),
    account: usable.id,
    name: usable.name,
    role: usable.role,
    agent: given.agent.slice(0, 120),
    begun: at,
    seen: at,
    expires: until.toISOString(),
  });
  return { ok: true, secret, seconds: DAYS * 86_400 };
}
