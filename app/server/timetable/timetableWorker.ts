// Works the timetable of the evenings out in a thread of its own.
import { performance } from "node:perf_hooks";
import { parentPort, workerData } from "node:worker_threads";
import { eveningProblem, type Work } from "~/core/schedule/eveningWork";
import { type Planned, plannedOf } from "~/core/schedule/planned";
import { solving } from "~/core/schedule/solve";

export interface TimetableWork {
  readonly work: Work;
  readonly milliseconds: number;
  readonly seed: number;
}
export type TimetableWord = { readonly planned: Planned; readonly done: boolean };

/** What is better is told at most so often. */
const TELL_MS = 700;
const now = () => performance.now();

const { work, milliseconds, seed } = workerData as TimetableWork;
const evening = eveningProblem(work);
const until = now() + milliseconds;
let told = Number.NEGATIVE_INFINITY;
const steps = solving(evening.problem, { now, seed, both: true });
for (;;) {
  const { value, done } = steps.next();
  const over = Boolean(done) || now() >= until;
  if (over || now() - told > TELL_MS) {
    told = now();
    parentPort?.postMessage({ planned: plannedOf(work, evening, value), done: over } satisfies TimetableWord);
  }
  if (over) break;
}
