import { apiOf } from "~/core/android/releases";
import { type FloorStep, floorSteps, type Need } from "~/core/catalogue/need";
import { currentValue } from "~/core/device/lookUp";
import type { Store } from "~/store/database";
import { type PlannedDevice, planFor, plannedDevices } from "./planning";

/** A step of the floor, with what it means for the devices that wait. */
export interface StockStep extends FloorStep {
  /** Devices that run this level or a later one now. */
  readonly above: number;
  /** Devices that some way brings to it. */
  readonly reach: number;
  /** Devices with a way that meets the whole need, as long as these apps stay. */
  readonly works: number;
}

const nowOf = (d: PlannedDevice) => apiOf(currentValue(d.facts, "android.release") ?? "");

/** Levels that are looked at in detail: below, nobody drops apps any more. */
const STEPS = 4;

/** The floor of a need from the top down, against the devices that wait for it; apps above a step are left out there. */
export function floorStock(store: Store, need: Need) {
  const devices = plannedDevices(store, null).filter((d) => d.need?.id === need.id);
  const steps = floorSteps(need);
  // What meets the whole need meets less of it too: only devices that have no way yet are planned anew, step by step.
  const working = new Set(devices.filter((d) => d.plan.best !== null));
  const rows: StockStep[] = steps.slice(0, STEPS).map((step) => {
    const kept = need.apps.filter((a) => a.minApi <= step.api);
    if (kept.length < need.apps.length) {
      // The planner keeps plans by the need's name: one with fewer apps is another need.
      const lower = { ...need, id: `${need.id}~${step.api}~${kept.map((a) => a.name).join("|")}`, apps: kept };
      for (const d of devices) if (!working.has(d) && planFor(store, d, lower).best !== null) working.add(d);
    }
    return {
      ...step,
      above: devices.filter((d) => (nowOf(d) ?? 0) >= step.api).length,
      reach: devices.filter((d) => Math.max(nowOf(d) ?? 0, ...d.plan.ways.map((w) => w.api)) >= step.api).length,
      works: working.size,
    };
  });
  const count = (apis: readonly (number | null)[]) => {
    const by = new Map<number, number>();
    for (const api of apis) if (api !== null) by.set(api, (by.get(api) ?? 0) + 1);
    return by;
  };
  return {
    devices: devices.length,
    unknown: devices.filter((d) => nowOf(d) === null).length,
    rows,
    now: count(devices.map(nowOf)),
    best: count(devices.map((d) => d.plan.best?.api ?? null)),
  };
}
