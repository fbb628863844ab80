import { db, notFound } from "~/app/server/http/context";
import { plannedDevice } from "~/app/server/planning/planning";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { writeRestoreScript } from "~/core/runbook/restoreIdentity";
import { findStanding } from "~/store/devices";
import { identityCopies } from "~/store/identityCopies";
import type { Route } from "./+types/identity-sh";

/** The script that gives a device its own identity partitions back; never before its account lock is settled. */
export function loader({ params }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const refuse = (says: string) =>
    new Response(`${says}\n`, { status: 409, headers: { "content-type": "text/plain; charset=utf-8" } });
  const gate = CLEARANCE_STATES[standing.clearance];
  if (!gate.opensGate)
    return refuse(`${standing.tag}: ${gate.says.toLowerCase()}. Nothing is written before the account lock is settled`);
  const copies = identityCopies(db(), standing.id);
  const { model } = plannedDevice(db(), standing);
  if (!standing.serial)
    return refuse(`The serial number of ${standing.tag} is not known: nothing tells it from another`);
  if (!model) return refuse(`The model of ${standing.tag} is not known`);
  if (copies.length === 0) return refuse(`Nothing was saved of ${standing.tag}`);
  const script = writeRestoreScript({
    tag: standing.tag,
    serial: standing.serial,
    codename: model.codename,
    copies,
  });
  return new Response(script, {
    headers: {
      "content-type": "text/x-shellscript; charset=utf-8",
      "content-disposition": `attachment; filename="${standing.tag.replaceAll(/[^A-Za-z0-9._-]/g, "-")}-identity.sh"`,
    },
  });
}
