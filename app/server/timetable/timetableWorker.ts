// Works the timetable of the evenings out in a thread of its own.
import { performance } from "node:perf_hooks";
import { parentPort, workerData } from "node:worker_threads";
import { eveningProblem, type Work } from "~/core/schedule/eveningWork";
import { type GroupOdds, oddsOf } from "~/core/schedule/odds";
import { type Planned, plannedOf } from "~/core/schedule/planned";
import { solving } from "~/core/schedule/solve";
import { worldOf } from "~/core/schedule/world";
import type { Gathered } from "./work";

export interface TimetableWork {
  readonly work: Work;
  readonly divided: Gathered["divided"];
  readonly groups: Gathered["groups"];
  readonly milliseconds: number;
  readonly seed: number;
}
export type TimetableWord = {
  readonly planned: Planned;
  /** What is promised to whom with which odds; only when the timetable stands. */
  readonly odds: readonly GroupOdds[];
  readonly done: boolean;
};

/** How often the weeks are played through. */
const RUNS = 2000;

/** What is better is told at most so often. */
const TELL_MS = 700;
const now = () => performance.now();

const { work, divided, groups, milliseconds, seed } = workerData as TimetableWork;
const evening = eveningProblem(work);
const until = now() + milliseconds;
let told = Number.NEGATIVE_INFINITY;
const steps = solving(evening.problem, { now, seed, both: true, order: evening.order ?? undefined });
for (;;) {
  const { value, done } = steps.next();
  const over = Boolean(done) || now() >= until;
  if (over || now() - told > TELL_MS) {
    told = now();
    const planned = plannedOf(work, evening, value);
    const odds = over ? oddsOf(worldOf(work, planned, divided, groups), RUNS, seed) : [];
    parentPort?.postMessage({ planned, odds, done: over } satisfies TimetableWord);
  }
  if (over) break;
}
