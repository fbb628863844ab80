import { performance } from "node:perf_hooks";
import { isMainThread, parentPort, Worker, workerData } from "node:worker_threads";
import type { Timetable } from "~/core/schedule/build";
import { compareCosts, costOf } from "~/core/schedule/cost";
import type { Problem } from "~/core/schedule/problem";
import { gapOf, type Progress, solving } from "~/core/schedule/solve";

type Job = { readonly problem: Problem; readonly seed: number; readonly milliseconds: number };
type News = { readonly timetable: Timetable; readonly bound: number; readonly ended: boolean };

const now = () => performance.now();
/** Answers are due by then, also when a thread takes its time to say its last. */
const GRACE = 400;

/**
 * Solves on two threads: both search from seeds of their own, the second proves in between. What either found or
 * proved counts for both.
 */
export async function solveOnThreads(
  problem: Problem,
  { milliseconds, seed }: { readonly milliseconds: number; readonly seed: number },
): Promise<Progress> {
  const until = now() + milliseconds;
  const first = solving(problem, { now, seed, prove: false });
  let { value: best, done } = first.next();
  if (done) return best;
  const job: Job = { problem, seed: seed + 1, milliseconds };
  const worker = new Worker(new URL("./scheduleThread.mjs", import.meta.url), { workerData: job });
  let ended = false;
  let failed: Error | null = null;
  worker.on("message", (news: News) => {
    const cost = costOf(problem, news.timetable);
    const bound = Math.max(best.bound, news.bound);
    const timetable = compareCosts(cost, best.cost) < 0 ? news.timetable : best.timetable;
    best = told(problem, timetable, bound);
    ended ||= news.ended;
  });
  worker.on("error", (error) => {
    failed = error;
  });
  try {
    while (!done && !ended && !failed && !proven(best) && now() < until) {
      const step = first.next();
      done = step.done;
      const timetable = compareCosts(step.value.cost, best.cost) < 0 ? step.value.timetable : best.timetable;
      best = told(problem, timetable, Math.max(best.bound, step.value.bound));
      await new Promise(setImmediate);
    }
    if (!proven(best)) await new Promise((resolve) => setTimeout(resolve, Math.min(GRACE, 0.05 * milliseconds)));
  } finally {
    await worker.terminate();
  }
  if (failed) throw failed;
  return best;
}

function told(problem: Problem, timetable: Timetable, bound: number): Progress {
  const cost = costOf(problem, timetable);
  return { timetable, cost, bound, gap: gapOf(cost, bound), soonest: bound };
}

const proven = ({ gap, cost }: Progress) => gap === 0 && cost.unplaced === 0;

/** The second thread: tells whatever is better or proven more. */
async function work({ problem, seed, milliseconds }: Job): Promise<void> {
  const until = now() + milliseconds;
  let aim = Number.POSITIVE_INFINITY;
  let bound = Number.NEGATIVE_INFINITY;
  const steps = solving(problem, { now, seed });
  for (;;) {
    const { value, done } = steps.next();
    if (value.cost.aim < aim || value.bound > bound || done) {
      ({ aim } = value.cost);
      ({ bound } = value);
      parentPort?.postMessage({ timetable: value.timetable, bound, ended: Boolean(done) } satisfies News);
    }
    if (done || now() >= until) return;
    await new Promise(setImmediate);
  }
}

if (!isMainThread && workerData) await work(workerData as Job);
