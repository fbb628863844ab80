import { CLEARANCE_STATES } from "~/core/clearance/states";
import { STATIONS, type Station } from "~/core/lane/stations";
import type { Store } from "~/store/database";
import { runStandings } from "~/store/runs";
import { allDevices, type PlannedDevice } from "./planning";

/** A station of the lane, or beside it: what was set aside is not worked on. */
export type Place = Station | "aside";

export interface Placed extends PlannedDevice {
  readonly station: Place;
  readonly done: number;
  readonly steps: number;
}

type RunStanding = ReturnType<typeof runStandings> extends Map<number, infer R> ? R : never;

/** Where a device waits: at the first station whose work on it is not finished. */
export function stationOf(device: PlannedDevice, run: RunStanding | undefined): Place {
  if (device.standing.aside) return "aside";
  const gate = CLEARANCE_STATES[device.standing.clearance];
  if (run?.end === "done" && run.decision === device.standing.decision) return "records";
  if (!gate.opensGate) return gate.verdict === "not-this-way" ? "records" : "clearance";
  if (!device.model) return "intake";
  const accepted = device.standing.way !== null;
  if (!accepted) return "match";
  if (run && run.decision === device.standing.decision && run.end !== "back" && run.finished) return "checkout";
  return "bench";
}

const placed = new WeakMap<readonly PlannedDevice[], readonly Placed[]>();

/** Devices with the station they wait at. Kept for as long as the list of all devices is. */
export function placedDevices(store: Store, batch: string | null): readonly Placed[] {
  const devices = allDevices(store);
  let all = placed.get(devices);
  if (!all) {
    const runs = runStandings(store);
    all = devices.map((device) => {
      const run = runs.get(device.standing.id);
      return { ...device, station: stationOf(device, run), done: run?.done ?? 0, steps: run?.steps ?? 0 };
    });
    placed.set(devices, all);
  }
  return batch === null ? all : all.filter((d) => d.standing.batch === batch);
}

/** How many devices wait at each station. */
export function countStations(devices: readonly Placed[]): Record<Station, number> {
  const counts = Object.fromEntries(STATIONS.map((s) => [s, 0])) as Record<Station, number>;
  for (const { station } of devices) if (station !== "aside") counts[station]++;
  return counts;
}
