import { apiOf } from "~/core/android/releases";
import { floorOf } from "~/core/catalogue/need";
import { currentValue } from "~/core/device/lookUp";
import { acceptedWay } from "~/store/devices";
import type { PlannedDevice } from "./planning";

/** What the small upshift chart of one device shows: the accepted way, else the proposed one. */
export function smallChart({ standing, facts, need, plan }: PlannedDevice) {
  const now = apiOf(currentValue(facts, "android.release") ?? "");
  const way = acceptedWay(standing) ?? plan.best;
  return {
    title: standing.tag,
    floors: need ? [{ name: need.name, api: floorOf(need).api }] : [],
    rows: [
      {
        key: standing.tag,
        label: standing.tag,
        now: now === null ? [] : [now],
        best: way?.api ?? null,
        cleaned: (way?.cleaned ?? null) !== null,
        others: [...new Set(plan.ways.map((w) => w.api))],
      },
    ],
  };
}
