import { type InHand, inHand } from "~/core/lane/inHand";
import type { Store } from "~/store/database";
import { beginningOf, type RunStepRow, stepsOf } from "~/store/runs";

/**
 * Who has a device in hand: whoever began its run, or wrote its last step since.
 *
 * @param run the run that counts
 * @param now the time, ISO
 * @param steps of the run, where they were read already
 */
export function handAt(
  store: Store,
  run: { readonly run: number; readonly done: number; readonly steps: number },
  now: string,
  steps: readonly RunStepRow[] = stepsOf(store, run.run),
): InHand | null {
  return inHand([beginningOf(store, run.run), ...steps], run, now);
}
