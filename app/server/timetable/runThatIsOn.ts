import type { Placed } from "~/app/server/planning/lane";
import type { Store } from "~/store/database";
import { positionOf, type RunStepRow, stepsOf } from "~/store/runs";

/** The run that is on; null where a device has none, or one of a way that is not the accepted one any more: that has no steps left. */
export const runThatIsOn = ({ standing, steps }: Placed): number | null => (steps > 0 ? standing.run : null);

/** What was written of the run that is on. */
export function rowsOfRun(store: Store, device: Placed): readonly RunStepRow[] {
  const run = runThatIsOn(device);
  return run === null ? [] : stepsOf(store, run);
}

/** Something went wrong at the step where a device is, and it was not begun again. */
export const isWrong = (rows: readonly RunStepRow[], { steps }: Placed): boolean =>
  positionOf(rows, steps).wrong !== null;
