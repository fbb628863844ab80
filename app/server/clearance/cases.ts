import { allDevices, type PlannedDevice } from "~/app/server/planning/planning";
import { apiOf } from "~/core/android/releases";
import { type ClearanceCase, foldCase } from "~/core/clearance/case";
import { type LockPossible, lockPossible } from "~/core/clearance/proof";
import { currentValue } from "~/core/device/lookUp";
import { clearanceEvents, eventsByDevice } from "~/store/clearance";
import type { Store } from "~/store/database";

/** Whether a lock is possible on a device, from what is known of it and of its model. */
export function lockOf(device: Pick<PlannedDevice, "facts" | "model">): LockPossible {
  const release = currentValue(device.facts, "android.release");
  const makerLock = currentValue(device.facts, "lock.maker") ?? device.model?.makerLock ?? null;
  return lockPossible(release === undefined ? null : apiOf(release), makerLock);
}

const NOTHING_HAPPENED = foldCase([]);

interface KeptCase {
  readonly revision: number;
  readonly folded: ClearanceCase;
}
const kept = new WeakMap<Store, { list: readonly PlannedDevice[]; byDevice: Map<number, KeptCase> }>();

/** The case of every device, by device. Folded once; afterwards only those to which something was added. */
export function casesOf(store: Store): (device: number) => ClearanceCase {
  const list = allDevices(store);
  const standing = kept.get(store);
  const byDevice = standing?.byDevice ?? new Map<number, KeptCase>();
  if (standing?.list !== list) {
    const moved = list.filter((d) => byDevice.get(d.standing.id)?.revision !== d.standing.revision);
    const bulk = moved.length > 50 ? eventsByDevice(store) : null;
    for (const { standing: s } of moved) {
      const events = bulk ? (bulk.get(s.id) ?? []) : clearanceEvents(store, s.id);
      byDevice.set(s.id, { revision: s.revision, folded: foldCase(events) });
    }
    kept.set(store, { list, byDevice });
  }
  return (device) => byDevice.get(device)?.folded ?? NOTHING_HAPPENED;
}
