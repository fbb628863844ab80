import { newReportKey } from "~/app/server/access/reportKey";
import { lockRefusal, refuseScript, serveScript } from "~/app/server/bench/deviceScript";
import { packagesOf } from "~/app/server/bench/packages";
import { db, notFound } from "~/app/server/http/context";
import { writePackagesBack } from "~/core/runbook/packagesBack";
import { findStanding } from "~/store/devices";
import type { Route } from "./+types/script";

/** The script that puts back what was taken from a device. */
export function loader({ params, request }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const locked = lockRefusal(standing, "done");
  if (locked) return locked;
  const { tag, serial } = standing;
  const names = packagesOf(db(), standing.id).flatMap((l) =>
    l.lines.filter((p) => p.outcome === "gone").map((p) => p.name),
  );
  if (names.length === 0) return refuseScript(`Nothing that was taken from ${tag} is missing`);
  return serveScript(
    standing,
    "packages-back",
    writePackagesBack({ tag, serial, names, key: newReportKey(request, tag) }),
  );
}
