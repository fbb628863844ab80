import { DEVICE_END_WORDS, DEVICE_ENDS, isFinishedRun, runThatCounts } from "~/core/lane/station";
import type { Hand, Store } from "~/store/database";
import { undecide } from "~/store/decisions";
import { appendDeviceEnd } from "~/store/deviceEnds";
import type { Standing } from "~/store/devices";
import { runStanding } from "~/store/runs";
import { inTransaction } from "~/store/transaction";

/** Fewest letters that tell a reason. */
const REASON_LETTERS = 5;

/**
 * Ends a device's way through the lane, to parts, recycling or back to its donor, or takes that back. An accepted way goes
 * with it.
 *
 * @returns what is wrong in words, or null
 */
export function endDevice(
  store: Store,
  standing: Standing,
  end: { readonly result: string; readonly reason: string },
  hand: Hand,
): string | null {
  const reason = end.reason.trim();
  if (end.result === "open") {
    if (!standing.ended) return `${standing.tag} is on the lane. Reload the page`;
    appendDeviceEnd(store, standing.id, { result: "open", reason }, hand);
    return null;
  }
  const result = DEVICE_ENDS.find((e) => e === end.result);
  if (!result) return "Choose where it goes: parts, recycling, or back to the donor";
  if (standing.ended) return `${standing.tag} goes no further already: it went ${DEVICE_END_WORDS[standing.ended]}`;
  if (reason.length < REASON_LETTERS) return "Write down why: the next one with such a device is glad of it";
  const run = runThatCounts(runStanding(store, standing.run), standing.decision);
  if (run?.checkout === "done") return `${standing.tag} is handed over already`;
  if (run && run.done > 0 && !isFinishedRun(run))
    return `${standing.tag} is on the bench in the middle of a run: end the run there, with what is seen`;
  inTransaction(store, () => {
    appendDeviceEnd(store, standing.id, { result, reason }, hand);
    if (standing.way !== null) undecide(store, standing.id, `goes no further: ${DEVICE_END_WORDS[result]}`, hand);
  });
  return null;
}
