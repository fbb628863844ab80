import { mayReport } from "~/app/server/access/reportKey";
import { takePackages } from "~/app/server/bench/packages";
import { now } from "~/app/server/http/clock";
import { db, notFound } from "~/app/server/http/context";
import { readText } from "~/app/server/http/form";
import { refused } from "~/app/server/http/refused";
import { findStanding } from "~/store/devices";
import type { Route } from "./+types/seen";

/** Longest listing that is read, bytes. */
const MAX = 1_000_000;

/** Takes what a script lists of the packages on a device, as "adb shell pm list packages" says it. */
export async function action({ request, params }: Route.ActionArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  if (!mayReport(request, params.tag))
    throw refused(403, "This comes from scripts of the device, with the key they were served with");
  const text = await readText(request, MAX);
  if (text === null) throw refused(413, "That is no list of packages: it is too long");
  const wrong = takePackages(db(), standing, text, { by: "bench script", at: now(db()).toISOString() });
  if (wrong) throw refused(400, wrong);
  return new Response(null, { status: 204 });
}
