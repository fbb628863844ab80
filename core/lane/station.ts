import { CLEARANCE_STATES, type ClearanceState } from "~/core/clearance/states";
import type { Station } from "./stations";

/** Where a device that goes no further went. */
export const DEVICE_ENDS = ["parts", "recycling", "donor"] as const;
export type DeviceEnd = (typeof DEVICE_ENDS)[number];

export const DEVICE_END_WORDS: Record<DeviceEnd, string> = {
  parts: "for parts",
  recycling: "recycled",
  donor: "back to the donor",
};

/** How a run may end before its last step. */
export const RUN_ENDS = ["starts", "does-not-start", "dead", "lock"] as const;
export type RunEnd = (typeof RUN_ENDS)[number];

export const RUN_END_WORDS: Record<RunEnd, string> = {
  starts: "stopped, it starts",
  "does-not-start": "stopped, it does not start",
  dead: "dead: nothing answers any more",
  lock: "an account lock was found",
};

/** The newest run of a device, as far as it bears on where the device stands. */
export interface RunStanding {
  readonly run: number;
  readonly decision: number;
  readonly steps: number;
  /** Steps that are done. */
  readonly done: number;
  /** How it was ended before its last step; null where it was not. */
  readonly stopped: RunEnd | null;
  /** How its checkout ended; null while it is open. */
  readonly checkout: "done" | "back" | null;
}

/**
 * Whether every step of a run is done.
 *
 * @example isFinishedRun({ done: 9, steps: 9 }) // true
 */
export const isFinishedRun = (run: Pick<RunStanding, "done" | "steps">) => run.done >= run.steps;

/**
 * The run that counts: the newest one, if it is a run of the way that stands, was not stopped, and did not come back from
 * Checkout. Everything that asks for "the run" asks here.
 *
 * @param decision the device's newest decision
 * @example runThatCounts({ decision: 3, stopped: "dead", checkout: null }, 3) // null
 */
export function runThatCounts<R extends Pick<RunStanding, "decision" | "stopped" | "checkout">>(
  run: R | null | undefined,
  decision: number | null,
): R | null {
  return run && run.decision === decision && run.stopped === null && run.checkout !== "back" ? run : null;
}

/** A station of the lane, or beside it: what was set aside is not worked on. */
export type LanePlace = Station | "aside";

export interface Whereabouts {
  readonly aside: unknown;
  readonly ended: DeviceEnd | null;
  readonly clearance: ClearanceState;
  readonly modelKnown: boolean;
  readonly accepted: boolean;
  readonly decision: number | null;
  readonly run: RunStanding | null;
}

/**
 * Where a device waits: at the first station whose work on it is not finished.
 *
 * @example stationOf({ aside: true, … }) // "aside"
 */
export function stationOf(w: Whereabouts): LanePlace {
  if (w.aside) return "aside";
  if (w.ended) return "records";
  const run = runThatCounts(w.run, w.decision);
  if (run?.checkout === "done") return "records";
  const gate = CLEARANCE_STATES[w.clearance];
  if (!gate.opensGate) return gate.verdict === "not-this-way" ? "records" : "clearance";
  if (!w.modelKnown) return "intake";
  if (!w.accepted) return "match";
  return run && isFinishedRun(run) ? "checkout" : "bench";
}

/** What came of a device: still on the lane, handed over, or where else it went ("ended": Clearance closed its case). */
export type Outcome = "open" | "handed-over" | "set-aside" | "ended" | DeviceEnd;

/**
 * What came of a device, in words.
 *
 * @example outcomeWords("handed-over") // "Finished and handed over"
 */
export const outcomeWords = (outcome: Exclude<Outcome, "open">): string =>
  outcome === "handed-over"
    ? "Finished and handed over"
    : outcome === "set-aside"
      ? "Set aside: nothing is done with it"
      : outcome === "ended"
        ? "It goes no further: its account-lock case is closed"
        : `It goes no further: ${DEVICE_END_WORDS[outcome]}`;

/**
 * What came of a device, from where it is.
 *
 * @example outcomeOf({ aside: true, … }) // "set-aside"
 */
export function outcomeOf(w: Whereabouts): Outcome {
  if (w.aside) return "set-aside";
  if (w.ended) return w.ended;
  if (runThatCounts(w.run, w.decision)?.checkout === "done") return "handed-over";
  return stationOf(w) === "records" ? "ended" : "open";
}
