import { devicesAt } from "~/app/server/planning/lane";
import { deviceName } from "~/app/server/planning/planning";
import { asClause } from "~/core/catalogue/clause";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { DEVICE_END_WORDS } from "~/core/lane/station";
import { checkoutEnd, checksOf } from "~/store/checkouts";
import type { Store } from "~/store/database";
import { deviceEnds } from "~/store/deviceEnds";
import { acceptedWay } from "~/store/devices";

export interface RecordRow {
  readonly tag: string;
  readonly device: string;
  readonly need: string;
  readonly ended: string;
  readonly why: string;
  readonly promised: string;
  readonly measured: string;
  readonly notRight: string;
  readonly at: string;
  readonly by: string;
}

/** What became of every device that has left the lane. */
export function recordRows(store: Store, batch: string | null): RecordRow[] {
  return devicesAt(store, batch, "records").map((d) => {
    const way = acceptedWay(d.standing);
    const checks = d.standing.run === null ? null : checksOf(store, d.standing.run);
    const end = d.standing.run === null ? undefined : checkoutEnd(store, d.standing.run);
    const gone = d.standing.ended ? deviceEnds(store, d.standing.id).at(-1) : undefined;
    return {
      tag: d.standing.tag,
      device: deviceName(d),
      need: d.need?.name ?? "",
      ended:
        d.outcome === "handed-over"
          ? "handed over"
          : d.standing.ended
            ? DEVICE_END_WORDS[d.standing.ended]
            : asClause(CLEARANCE_STATES[d.standing.clearance].says),
      why: gone?.reason ?? "",
      promised: end && way ? way.release : "",
      measured: checks?.get("release")?.measured ?? "",
      notRight: checks
        ? [...checks.values()]
            .filter((c) => c.result === "not-ok")
            .map((c) => c.item)
            .join(" ")
        : "",
      at: gone?.at ?? end?.at ?? "",
      by: gone?.by ?? end?.by ?? "",
    };
  });
}
