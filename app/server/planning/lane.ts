import {
  type LanePlace,
  outcomeOf,
  type RunStanding,
  runThatCounts,
  stationOf,
  type Whereabouts,
} from "~/core/lane/station";
import { STATIONS, type Station } from "~/core/lane/stations";
import type { Store } from "~/store/database";
import { runStandings } from "~/store/runs";
import { groupedBy } from "./groupedBy";
import { byBatch, keptBy } from "./keptBy";
import { allDevices, type PlannedDevice } from "./planning";

export interface Placed extends PlannedDevice {
  readonly station: LanePlace;
  readonly outcome: ReturnType<typeof outcomeOf>;
  readonly done: number;
  readonly steps: number;
}

/** What tells where a device is, out of its row, its plan and its newest run. */
export const whereaboutsOf = (
  { standing, model }: Pick<PlannedDevice, "standing" | "model">,
  run: RunStanding | null,
): Whereabouts => ({
  aside: standing.aside,
  ended: standing.ended,
  clearance: standing.clearance,
  modelKnown: model !== null,
  accepted: standing.way !== null,
  decision: standing.decision,
  run,
});

const placed = new WeakMap<readonly PlannedDevice[], readonly Placed[]>();
const NOBODY: readonly never[] = [];

/** Devices with the station they wait at. Kept for as long as the list of all devices is. */
export function placedDevices(store: Store, batch: string | null): readonly Placed[] {
  const devices = allDevices(store);
  let all = placed.get(devices);
  if (!all) {
    const runs = runStandings(store);
    all = devices.map((device) => {
      const newest = runs.get(device.standing.id) ?? null;
      const run = runThatCounts(newest, device.standing.decision);
      const where = whereaboutsOf(device, newest);
      return {
        ...device,
        station: stationOf(where),
        outcome: outcomeOf(where),
        done: run?.done ?? 0,
        steps: run?.steps ?? 0,
      };
    });
    placed.set(devices, all);
  }
  return batch === null ? all : (byBatch(all).get(batch) ?? NOBODY);
}

const byStation = keptBy((devices: readonly Placed[]) => groupedBy(devices, (d) => d.station));

/** Devices of a batch, or of all, that wait at one station. */
export const devicesAt = (store: Store, batch: string | null, station: LanePlace): readonly Placed[] =>
  byStation(placedDevices(store, batch)).get(station) ?? NOBODY;

/** How many devices wait at each station. */
export const countStations = keptBy((devices: readonly Placed[]): Record<Station, number> => {
  const counts = Object.fromEntries(STATIONS.map((s) => [s, 0])) as Record<Station, number>;
  for (const { station } of devices) if (station !== "aside") counts[station]++;
  return counts;
});
