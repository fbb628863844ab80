import { differenceInCalendarDays, parseISO } from "date-fns";
import { CLEARANCE_STATES, ClearanceState, OPEN_STATES } from "~/core/clearance/states";
import type { Store } from "~/store/database";
import { casesOf } from "./cases";
import { placedDevices } from "./lane";

/** Ages of open cases, in days since the state was entered. */
export const AGES = [
  { name: "up to 7 days", to: 7 },
  { name: "8 to 14 days", to: 14 },
  { name: "15 to 30 days", to: 30 },
  { name: "longer", to: Number.POSITIVE_INFINITY },
] as const;

export interface StateAges {
  readonly state: ClearanceState;
  readonly says: string;
  /** Cases per age, in the order of {@link AGES}. */
  readonly ages: readonly number[];
}

/** Cases that hold a device up, by state and by how long they have stood there. */
export function openByAge(store: Store, at: Date): StateAges[] {
  const caseOf = casesOf(store);
  const counts = new Map(OPEN_STATES.map((s) => [s, AGES.map(() => 0)]));
  for (const d of placedDevices(store, null)) {
    const row = d.station === "clearance" && counts.get(d.standing.clearance);
    if (!row) continue;
    const since = caseOf(d.standing.id).since;
    const days = since ? differenceInCalendarDays(at, parseISO(since)) : 0;
    row[AGES.findIndex((age) => days <= age.to)]++;
  }
  return ClearanceState.options.flatMap((state) => {
    const ages = counts.get(state);
    return ages?.some((n) => n > 0) ? [{ state, says: CLEARANCE_STATES[state].says, ages }] : [];
  });
}
