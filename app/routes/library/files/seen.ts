import { db, handOf } from "~/app/server/http/context";
import { readText } from "~/app/server/http/form";
import { appendFileSeen, FileSeen } from "~/store/filesSeen";
import type { Route } from "./+types/seen";

/** Largest report taken, bytes. */
const MAX = 10_000;

/** Keeps what was found out about a file; the page sends it when a file is done. */
export async function action({ request }: Route.ActionArgs) {
  const text = await readText(request, MAX);
  let json: unknown = null;
  try {
    json = text === null ? null : JSON.parse(text);
  } catch {
    // Refused below, like any other text that is no report.
  }
  const read = FileSeen.safeParse(json);
  if (!read.success) return new Response("This is no report of a file", { status: 400 });
  appendFileSeen(db(), read.data, handOf(request));
  return new Response(null, { status: 204 });
}
