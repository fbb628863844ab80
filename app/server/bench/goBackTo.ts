import type { Hand, Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { findRun, positionOf, stepsOf } from "~/store/runs";
import { inTransaction } from "~/store/transaction";
import { actAtBench } from "./actAtBench";

/**
 * Takes the steps from the open one back to another one back, the last first: what they made of the device is taken back
 * with them. All or nothing.
 *
 * @param place of the open step, as the page that asks shows it
 * @param to place of the step that is open afterwards
 * @returns what is wrong in words, or null
 */
export function goBackTo(store: Store, tag: string, place: number, to: number, hand: Hand): string | null {
  let wrong: string | null = null;
  try {
    inTransaction(store, () => {
      const standing = findStanding(store, tag);
      const run = standing && findRun(store, standing.id);
      if (!run) wrong = "There is no run to go back in";
      else {
        const position = positionOf(stepsOf(store, run.id), run.steps);
        if (position.place !== place)
          wrong = `This run is at step ${position.place + 1} by now: reload before you go back`;
        else if (!Number.isInteger(to) || to < 0 || to >= place) wrong = "Choose a step that was done before this one";
        else if (position.wrong !== null)
          wrong = actAtBench(store, tag, { act: "again", place, note: "", yes: false }, hand);
      }
      for (let at = place - 1; wrong === null && at >= to; at--)
        wrong = actAtBench(store, tag, { act: "undone", place: at, note: "", yes: false }, hand);
      if (wrong) throw new TakenBack();
    });
  } catch (error) {
    if (!(error instanceof TakenBack)) throw error;
  }
  return wrong;
}

/** Rolls the transaction back: nothing half taken back stays. */
class TakenBack extends Error {}
