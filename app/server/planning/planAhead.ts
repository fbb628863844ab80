import { setImmediate as breath } from "node:timers/promises";
import { laneStops } from "~/app/server/planning/laneStops";
import { plannedDevice } from "~/app/server/planning/planning";
import type { Store } from "~/store/database";
import { standingsIn } from "~/store/devices";

/** Devices between two looks at who else asks: some milliseconds. */
const AT_ONCE = 20;

/**
 * Plans what is not planned yet, a little at a time, so that the first page after many devices came in need not.
 *
 * @example await planAhead(store) // pages are answered meanwhile
 */
export async function planAhead(store: Store): Promise<void> {
  for (const [n, standing] of standingsIn(store, null).entries()) {
    plannedDevice(store, standing);
    if (n % AT_ONCE === AT_ONCE - 1) await breath();
  }
  // What every page shows of all of them.
  laneStops(store);
}
