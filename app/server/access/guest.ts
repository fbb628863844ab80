import { createHash, randomBytes } from "node:crypto";
import { parseCookie, stringifySetCookie } from "cookie";
import { type Role, seesPersonalData } from "~/core/access/roles";
import { oneLine } from "~/core/clearance/letter";
import { hasAccounts } from "~/store/accounts";
import type { Store } from "~/store/database";
import { openSession, touchSession } from "~/store/sessions";

/** Who asks. */
export interface Guest {
  readonly name: string;
  readonly role: Role;
  /** null: the house is open, nobody signs in. */
  readonly session: number | null;
  /** null: a volunteer's own phone, or an open house. */
  readonly account: number | null;
  readonly seesPersonalData: boolean;
}

const SESSION_COOKIE = "lane_session";
export const PERSON_COOKIE = "upshift_person";
/** How often it is written down that a session was used, ms. */
const TOUCH = 300_000;

/** SHA-256 of a secret: what lies in the database opens nothing. */
export const digestOf = (secret: string): string => createHash("sha256").update(secret).digest("hex");

/** 256 random bits, for a session, an invitation, a key. */
export const newSecret = (): string => randomBytes(32).toString("base64url");

/**
 * Whether nobody has to sign in: only this computer reaches the lane, and no account was made.
 * UPSHIFT_ALONE is set by what listens (app/serve); where it is not set, tools of this computer ask.
 */
export const isOpenHouse = (store: Store): boolean => process.env.UPSHIFT_ALONE !== "" && !hasAccounts(store);

/** Cookies of a request by name; a header that is none gives none. */
export const cookiesOf = (request: Request) => parseCookie(request.headers.get("cookie") ?? "");

/** Who asks; null when nobody has signed in. */
export function guestOf(store: Store, request: Request, now: Date): Guest | null {
  const cookies = cookiesOf(request);
  if (isOpenHouse(store)) {
    // What can't be decoded comes back as it is: a malformed cookie is a name like any other.
    const name = oneLine(cookies[PERSON_COOKIE] ?? "").slice(0, 60) || "Coordinator";
    return { name, role: "coordinator", session: null, account: null, seesPersonalData: true };
  }
  const secret = cookies[SESSION_COOKIE];
  if (!secret || secret.length > 100) return null;
  const found = openSession(store, digestOf(secret), now.toISOString());
  if (!found) return null;
  if (now.getTime() - Date.parse(found.seen) > TOUCH) touchSession(store, found.id, now.toISOString());
  const { name, role, id, account } = found;
  return { name, role, session: id, account, seesPersonalData: seesPersonalData(role) };
}

/**
 * The header that keeps a session in the browser, or takes it away.
 *
 * @param seconds how long it is kept: the browser's clock and the product's may differ
 */
export const sessionCookie = (request: Request, secret: string | null, seconds: number): string =>
  stringifySetCookie(SESSION_COOKIE, secret ?? "", {
    path: "/",
    httpOnly: true,
    sameSite: "lax",
    secure: new URL(request.url).protocol === "https:",
    maxAge: secret ? Math.max(0, Math.round(seconds)) : 0,
  });
