import { db, guestAt, handOf } from "~/app/server/http/context";
import type { ReportKey } from "~/core/runbook/writeScript";
import { findStanding } from "~/store/devices";
import { addReportKey, reportKeyOf } from "~/store/shown";
import { digestOf, isOpenHouse, newSecret } from "./guest";

/** Makes a key with which a script of a device may report, and nothing else; null where there is no such device. */
export function newReportKey(request: Request, tag: string): ReportKey | null {
  const standing = findStanding(db(), tag);
  if (!standing || !guestAt(request)) return null;
  const secret = newSecret();
  const digest = digestOf(secret);
  addReportKey(db(), digest, standing.id, handOf(request));
  return { secret, script: digest.slice(0, 16) };
}

/**
 * Whether a report may come in: with a key of this device's own. In an open house a report without a key may, too; one with a
 * wrong key never.
 */
export function mayReport(request: Request, tag: string): boolean {
  // Scripts send no such header; a page of another site would, and has no business here.
  if (request.headers.get("sec-fetch-site") === "cross-site") return false;
  const key = request.headers.get("x-lane-key") ?? "";
  if (key === "") return isOpenHouse(db());
  return reportKeyOf(db(), digestOf(key), tag) !== null;
}
