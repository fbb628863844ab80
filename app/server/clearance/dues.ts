import { dayOf } from "~/app/server/http/clock";
import { type Placed, placedDevices } from "~/app/server/planning/lane";
import type { ClearanceCase } from "~/core/clearance/case";
import { type Due, dueOf } from "~/core/clearance/followUp";
import type { Store } from "~/store/database";
import { listBatches } from "~/store/devices";
import { readPolicy } from "~/store/policy";
import { casesOf } from "./cases";

export interface DueDevice {
  readonly device: Placed;
  readonly case: ClearanceCase;
  readonly due: Due;
}

const kept = new WeakMap<readonly Placed[], { readonly today: string; readonly dues: readonly DueDevice[] }>();

/**
 * What is to be done next at Clearance, for every device that waits there; the most overdue first. Kept for the day and for as
 * long as the list of all devices is: the lane and the page ask for the same.
 */
export function openDues(store: Store, at: Date): readonly DueDevice[] {
  const devices = placedDevices(store, null);
  const today = dayOf(at);
  const standing = kept.get(devices);
  if (standing?.today === today) return standing.dues;
  const dues = findDues(store, devices, today);
  kept.set(devices, { today, dues });
  return dues;
}

function findDues(store: Store, devices: readonly Placed[], today: string): DueDevice[] {
  const caseOf = casesOf(store);
  const { followUp } = readPolicy(store).policy;
  const received = new Map(listBatches(store).map((b) => [b.id, b.received]));
  return devices
    .flatMap((device): DueDevice[] => {
      if (device.station !== "clearance") return [];
      const was = caseOf(device.standing.id);
      const due = dueOf(was, received.get(device.standing.batch) ?? today, followUp, today);
      return due ? [{ device, case: was, due }] : [];
    })
    .sort((a, b) => b.due.daysOver - a.due.daysOver || a.device.standing.tag.localeCompare(b.device.standing.tag));
}
