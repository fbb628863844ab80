import { packagesOf } from "~/app/server/bench/packages";
import { db, notFound } from "~/app/server/http/context";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { writePackagesBack } from "~/core/runbook/packagesBack";
import { findStanding } from "~/store/devices";
import type { Route } from "./+types/script";

/** The script that puts back what was taken from a device. */
export function loader({ params }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const names = packagesOf(db(), standing.id).flatMap((l) =>
    l.lines.filter((p) => p.outcome === "gone").map((p) => p.name),
  );
  const gate = CLEARANCE_STATES[standing.clearance];
  const text = { "content-type": "text/plain; charset=utf-8" };
  if (!gate.opensGate)
    return new Response(
      `${standing.tag}: ${gate.says.toLowerCase()}. Nothing is done before the account lock is settled\n`,
      { status: 409, headers: text },
    );
  if (names.length === 0)
    return new Response(`Nothing that was taken from ${standing.tag} is missing\n`, { status: 409, headers: text });
  return new Response(writePackagesBack({ tag: standing.tag, serial: standing.serial, names }), {
    headers: {
      "content-type": "text/x-shellscript; charset=utf-8",
      "content-disposition": `attachment; filename="${standing.tag.replaceAll(/[^A-Za-z0-9._-]/g, "-")}-packages-back.sh"`,
    },
  });
}
