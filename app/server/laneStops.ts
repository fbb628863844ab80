import { CLEARANCE_STATES } from "~/core/clearance/clearance";
import { clearanceEvents } from "~/store/clearance";
import type { Store } from "~/store/database";
import type { LaneStop } from "../ui/Lane";
import { STATION_NAMES, STATIONS } from "../ui/stations";
import { countStations, type Placed, placedDevices } from "./lane";

/** Days after which an owner who was asked should be reminded (handbook default). */
const REMIND_AFTER_DAYS = 7;

/** The lane with its counts; Clearance is marked when an owner was asked more than a week ago. */
export function laneStops(store: Store, now = new Date()): LaneStop[] {
  const devices = placedDevices(store, null);
  const counts = countStations(devices);
  const overdue = devices.some((d) => isOverdue(store, d, now));
  return STATIONS.map((station, i) => ({
    to: `/${station}`,
    name: STATION_NAMES[station],
    key: String(i + 1),
    count: counts[station],
    overdue: station === "clearance" && overdue,
  }));
}

/** An owner was asked, and has not answered for longer than the reminder time. */
export function isOverdue(store: Store, device: Placed, now: Date): boolean {
  if (device.standing.clearance !== "asked" || CLEARANCE_STATES.asked.opensGate) return false;
  const last = clearanceEvents(store, device.standing.id).at(-1);
  return last !== undefined && now.getTime() - Date.parse(last.at) > REMIND_AFTER_DAYS * 86_400_000;
}
