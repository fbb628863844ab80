import { openDues } from "~/app/server/clearance/dues";
import { now } from "~/app/server/http/clock";
import type { LaneStop } from "~/app/ui/Lane";
import { STATION_NAMES, STATIONS } from "~/core/lane/stations";
import type { Store } from "~/store/database";
import { countStations, placedDevices } from "./lane";

/** The lane with its counts; Clearance is marked when something there is later than the policy wants it. */
export function laneStops(store: Store, at = now(store)): LaneStop[] {
  const counts = countStations(placedDevices(store, null));
  const overdue = openDues(store, at).some((d) => d.due.daysOver > 0);
  return STATIONS.map((station, i) => ({
    to: `/${station}`,
    name: STATION_NAMES[station],
    key: String(i + 1),
    count: counts[station],
    overdue: station === "clearance" && overdue,
  }));
}
