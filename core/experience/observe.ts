import type { RunEnd } from "~/core/lane/station";
import type { Runbook } from "~/core/runbook/step";

/** What became of one operation in one run. */
export interface Observation {
  readonly run: number;
  readonly kind: string;
  readonly image: string | null;
  readonly model: string;
  /** It went well at the first try. */
  readonly ok: boolean;
  /** Measured time against promised time; null where no clock tells. */
  readonly pace: number | null;
  /** Seconds measured and promised, where a clock tells. */
  readonly seconds: { readonly measured: number; readonly promised: number } | null;
}

/** What was appended about a step of a run. */
export interface StepRow {
  readonly place: number;
  readonly outcome: "begun" | "done" | "wrong" | "again" | "undone";
  readonly at: string;
}

export interface RunRecord {
  readonly run: number;
  readonly runbook: Runbook;
  readonly begunAt: string;
  /** In the order they were written. */
  readonly steps: readonly StepRow[];
  readonly end: { readonly result: RunEnd; readonly place: number } | null;
}

/** A step that takes longer than this many times its latest time was a pause: somebody went home. */
const PAUSE = 2;

/** Seconds each step took, pauses and nights cut out: a step whose clock ran on over a pause counts with its usual time. */
export function stepSeconds({ runbook, steps, begunAt }: RunRecord): Map<number, number> {
  const took = new Map<number, number>();
  let from = Date.parse(begunAt);
  for (const row of steps) {
    const at = Date.parse(row.at);
    if (row.outcome === "done") {
      const step = runbook.steps[row.place];
      const seconds = Math.max(0, (at - from) / 1000);
      if (step) took.set(row.place, seconds > PAUSE * step.latestSeconds ? step.usualSeconds : seconds);
    }
    // The clock of the next step starts when it was begun, else when the one before it was done.
    from = at;
  }
  return took;
}

/**
 * What a run taught, operation by operation. One that was finished without anything going wrong went well; one at which the
 * run was ended, or in which something went wrong, did not. An operation that was never reached teaches nothing, nor does a
 * lock that turned up.
 *
 * @example observe({ runbook, steps: [], end: null, … }) // []
 */
export function observe(record: RunRecord): Observation[] {
  const { runbook, steps, end } = record;
  const took = stepSeconds(record);
  const done = new Set<number>();
  const wrong = new Set<number>();
  for (const row of steps) {
    if (row.outcome === "done") done.add(row.place);
    else if (row.outcome === "undone") done.delete(row.place);
    else if (row.outcome === "wrong") wrong.add(row.place);
  }
  return runbook.operations.flatMap((operation, i): Observation[] => {
    const places = runbook.steps.flatMap((s, place) => (s.operation === i ? [place] : []));
    const finished = places.length > 0 && places.every((p) => done.has(p));
    const stoppedHere = end !== null && end.result !== "lock" && places.includes(end.place);
    if (!finished && !stoppedHere) return [];
    const promised = places.reduce((sum, p) => sum + runbook.steps[p].usualSeconds, 0);
    const measured = places.reduce((sum, p) => sum + (took.get(p) ?? 0), 0);
    const clock = finished && promised > 0 && measured > 0 ? { measured, promised } : null;
    return [
      {
        run: record.run,
        kind: operation.kind,
        image: operation.image,
        model: runbook.model,
        ok: finished && !places.some((p) => wrong.has(p)),
        pace: clock && clock.measured / clock.promised,
        seconds: clock,
      },
    ];
  });
}
