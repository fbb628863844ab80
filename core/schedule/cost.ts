import type { Timetable } from "./build";
import type { Problem } from "./problem";

/** How good a timetable is: what is told first counts first, however little it is. */
export type Cost = {
  /** Tasks for which no room was found, with all that wait for them. */
  readonly unplaced: number;
  /** What is aimed at: the last end, or weighted late minutes. */
  readonly aim: number;
  /** What is looked at when the aim is the same: for lateness the last end, else the sum of all ends. */
  readonly second: number;
  readonly makespan: number;
  readonly tardiness: number;
};

/** Last end and weighted lateness of a timetable. */
export function costOf(problem: Problem, { starts }: Timetable): Cost {
  const { count, minutes, due, weight, aim } = problem;
  let unplaced = 0;
  let makespan = 0;
  let tardiness = 0;
  let ends = 0;
  for (let task = 0; task < count; task++) {
    const end = starts[task] + minutes[task];
    if (end === Number.POSITIVE_INFINITY) {
      unplaced++;
      continue;
    }
    if (end > makespan) makespan = end;
    if (end > due[task]) tardiness += weight[task] * (end - due[task]);
    ends += end;
  }
  return aim === "makespan"
    ? { unplaced, aim: makespan, second: ends, makespan, tardiness }
    : { unplaced, aim: tardiness, second: makespan, makespan, tardiness };
}

/** Below 0 when the first is better. */
export const compareCosts = (one: Cost, other: Cost): number =>
  one.unplaced - other.unplaced || one.aim - other.aim || one.second - other.second;
