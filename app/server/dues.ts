import type { ClearanceCase } from "~/core/clearance/case";
import { type Due, dueOf } from "~/core/clearance/followUp";
import type { Store } from "~/store/database";
import { listBatches } from "~/store/devices";
import { readPolicy } from "~/store/policy";
import { casesOf } from "./cases";
import { dayOf } from "./clock";
import { type Placed, placedDevices } from "./lane";

export interface DueDevice {
  readonly device: Placed;
  readonly case: ClearanceCase;
  readonly due: Due;
}

/** What is to be done next at Clearance, for every device that waits there; the most overdue first. */
export function openDues(store: Store, at: Date): DueDevice[] {
  const caseOf = casesOf(store);
  const { followUp } = readPolicy(store).policy;
  const received = new Map(listBatches(store).map((b) => [b.id, b.received]));
  const today = dayOf(at);
  return placedDevices(store, null)
    .flatMap((device): DueDevice[] => {
      if (device.station !== "clearance") return [];
      const was = caseOf(device.standing.id);
      const due = dueOf(was, received.get(device.standing.batch) ?? today, followUp, today);
      return due ? [{ device, case: was, due }] : [];
    })
    .sort((a, b) => b.due.daysOver - a.due.daysOver || a.device.standing.tag.localeCompare(b.device.standing.tag));
}
