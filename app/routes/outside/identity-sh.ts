import { lockRefusal, refuseScript, serveScript } from "~/app/server/bench/deviceScript";
import { db, notFound } from "~/app/server/http/context";
import { plannedDevice } from "~/app/server/planning/planning";
import { writeRestoreScript } from "~/core/runbook/restoreIdentity";
import { findStanding } from "~/store/devices";
import { identityCopies } from "~/store/identityCopies";
import type { Route } from "./+types/identity-sh";

/** The script that gives a device its own identity partitions back; never before its account lock is settled. */
export function loader({ params }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const locked = lockRefusal(standing, "written");
  if (locked) return locked;
  const { tag, serial } = standing;
  const copies = identityCopies(db(), standing.id);
  const { model } = plannedDevice(db(), standing);
  if (!serial) return refuseScript(`The serial number of ${tag} is not known: nothing tells it from another`);
  if (!model) return refuseScript(`The model of ${tag} is not known`);
  // A board's dump goes back through its loader, row by row: its sheet has the digests and the settings.
  if (model.flash === "loader")
    return refuseScript(`${tag} is given its own dump back by its sheet: choose that way at Match`);
  if (copies.length === 0) return refuseScript(`Nothing was saved of ${tag}`);
  return serveScript(standing, "identity", writeRestoreScript({ tag, serial, codename: model.codename, copies }));
}
