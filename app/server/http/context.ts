import path from "node:path";
import { parseCookie } from "cookie";
import { oneLine } from "~/core/clearance/letter";
import { type Hand, openStore, type Store } from "~/store/database";
import { now } from "./clock";

let store: Store | null = null;

/** File of the database: UPSHIFT_DB, or the demo's own. */
export const dbFile = (): string => process.env.UPSHIFT_DB ?? path.resolve("data/demo.db");

/** The database of this process. */
export function db(): Store {
  store ??= openStore(dbFile());
  return store;
}

const COOKIE = "upshift_person";

/** Who is at the desk, as they said themselves. */
export function personOf(request: Request): string {
  // What can't be decoded comes back as it is: a malformed cookie is a name like any other.
  const name = parseCookie(request.headers.get("cookie") ?? "")[COOKIE] ?? "";
  return oneLine(name).slice(0, 60) || "Coordinator";
}

/** The header that remembers who is at the desk for half a year. */
export function rememberPerson(name: string): string {
  return `${COOKIE}=${encodeURIComponent(name.slice(0, 60))}; Path=/; Max-Age=15552000; SameSite=Lax; HttpOnly`;
}

/** The hand of a request: who, and now. */
export function handOf(request: Request): Hand {
  return { by: personOf(request), at: now(db()).toISOString() };
}

/** A page that is not there, in words. */
export function notFound(says: string): Response {
  return new Response(says, {
    status: 404,
    statusText: "Not found",
    headers: { "content-type": "text/plain; charset=utf-8" },
  });
}
