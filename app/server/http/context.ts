import { stringifySetCookie } from "cookie";
import { type Guest, guestOf, PERSON_COOKIE } from "~/app/server/access/guest";
import { type Hand, openStore, type Store } from "~/store/database";
import { now } from "./clock";
import { dbFile } from "./dbFile";
import { refused } from "./refused";

let store: Store | null = null;

/** The database of this process. */
export function db(): Store {
  store ??= openStore(dbFile());
  return store;
}

/** Who asks, kept for as long as the request lives. */
const guests = new WeakMap<Request, Guest | null>();

/** Who asks; null when nobody has signed in. */
export function guestAt(request: Request): Guest | null {
  let guest = guests.get(request);
  if (guest === undefined) {
    guest = guestOf(db(), request, now(db()));
    guests.set(request, guest);
  }
  return guest;
}

/** The address a request came from, as what listens has seen it (app/serve); never what the request says of itself. */
export const addressOf = (request: Request): string => request.headers.get("x-lane-address") ?? "";

/** Who is at the desk: who has signed in, or as they said themselves in an open house. */
export const personOf = (request: Request): string => guestAt(request)?.name ?? "nobody";

/** The header that remembers who is at the desk for half a year. */
export const rememberPerson = (name: string): string =>
  stringifySetCookie(PERSON_COOKIE, name.slice(0, 60), {
    path: "/",
    maxAge: 15_552_000,
    sameSite: "lax",
    httpOnly: true,
  });

/** The hand of a request: who, and now. */
export function handOf(request: Request): Hand {
  return { by: personOf(request), at: now(db()).toISOString() };
}

/** A page that is not there, in words. */
export const notFound = (says: string): Response => refused(404, says);
