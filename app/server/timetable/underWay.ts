import { differenceInMinutes, parseISO } from "date-fns";
import { dayOf } from "~/app/server/http/clock";
import type { Placed } from "~/app/server/planning/lane";
import type { Job } from "~/core/schedule/eveningWork";
import type { Piece } from "~/core/schedule/pieces";
import { benchOfRun } from "~/store/benches";
import type { Store } from "~/store/database";
import { beginningOf } from "~/store/runs";
import { rowsOfRun, runThatIsOn } from "./runThatIsOn";
import { minuteOf } from "./times";

/** What was last done so long ago lies on a shelf: it is not under way any more. Common practice, no source. */
const LIES_AFTER_MINUTES = 240;

/**
 * What is under way on a device, by the bench's own clock: who has it in hand, since when and where; null where it lies on a
 * shelf. Whoever did anything at it last has it in hand, be it that they only took it up, or wrote down what went wrong.
 *
 * @param first the piece at which it stands
 * @param at    now
 */
export function underWay(store: Store, device: Placed, first: Piece | undefined, at: Date): Job["begun"] {
  const run = runThatIsOn(device);
  if (!first || run === null) return null;
  const rows = rowsOfRun(store, device);
  const last = rows.at(-1) ?? beginningOf(store, run);
  // What runs by itself has run since the step before it was done.
  const done = first.kind === "hands" ? undefined : rows.findLast(({ outcome }) => outcome === "done");
  // Days of waiting go on whether or not anybody is in the house; everything else is of this evening.
  if (first.kind !== "wait" && differenceInMinutes(at, parseISO(last.at)) > LIES_AFTER_MINUTES) return null;
  return {
    start: Math.floor(minuteOf(dayOf(at), parseISO((done ?? last).at))),
    volunteer: last.by,
    bench: benchOfRun(store, run)?.name ?? null,
  };
}

/** One pair of hands has one thing in them: the others that it began wait for their turn again. */
export function oneInHand(jobs: readonly Job[]): Job[] {
  const newest = new Map<string, Job>();
  for (const job of jobs) {
    if (!job.begun || job.pieces[0]?.kind !== "hands") continue;
    const other = newest.get(job.begun.volunteer);
    if (!other?.begun || other.begun.start < job.begun.start) newest.set(job.begun.volunteer, job);
  }
  return jobs.map((job) =>
    job.begun && job.pieces[0]?.kind === "hands" && newest.get(job.begun.volunteer) !== job
      ? { ...job, begun: null }
      : job,
  );
}
