import { differenceInCalendarDays, parseISO } from "date-fns";
import { placedDevices } from "~/app/server/planning/lane";
import { AGES } from "~/core/clearance/ages";
import { CLEARANCE_STATES, ClearanceState, OPEN_STATES } from "~/core/clearance/states";
import type { Store } from "~/store/database";
import { listBatches } from "~/store/devices";
import { casesOf } from "./cases";

export interface StateAges {
  readonly state: ClearanceState;
  readonly says: string;
  /** Cases per age, in the order of {@link AGES}. */
  readonly ages: readonly number[];
}

/** Cases that hold a device up, by state and by how long they have stood there. */
export function openByAge(store: Store, batch: string | null, at: Date): StateAges[] {
  const caseOf = casesOf(store);
  const received = new Map(listBatches(store).map((b) => [b.id, b.received]));
  const counts = new Map(OPEN_STATES.map((s) => [s, AGES.map(() => 0)]));
  for (const d of placedDevices(store, batch)) {
    const row = d.station === "clearance" && counts.get(d.standing.clearance);
    if (!row) continue;
    // Before anything has happened it stands there since it arrived.
    const since = caseOf(d.standing.id).since ?? received.get(d.standing.batch);
    const days = since ? differenceInCalendarDays(at, parseISO(since)) : 0;
    row[AGES.findIndex((age) => days <= age.to)]++;
  }
  return ClearanceState.options.flatMap((state) => {
    const ages = counts.get(state);
    return ages?.some((n) => n > 0) ? [{ state, says: CLEARANCE_STATES[state].says, ages }] : [];
  });
}
