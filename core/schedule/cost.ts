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

/** Minutes that the whole may end later so that one piece stays with whom and when people were told. Common practice, no source. */
const PER_CHANGE = 4;
/** A piece that moves by no more than this is where it was. */
const ABOUT_THEN = 30;
/** Minutes that the whole may end later for each minute that the busiest hands are busier than the mean. */
const PER_UNEVEN = 0.01;

/**
 * Last end and weighted lateness of a timetable.
 *
 * @example costOf(problem, timetable).makespan // 55 …
 */
export function costOf(problem: Problem, timetable: Timetable): Cost {
  const { starts } = timetable;
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
    : { unplaced, aim: tardiness, second: makespan + unrest(problem, timetable), makespan, tardiness };
}

/** What a timetable asks of people beside their time: that they learn another one, and that some do more than others. */
function unrest(problem: Problem, timetable: Timetable): number {
  const { told, count, minutes, modes } = problem;
  if (!told) return 0;
  const loads = new Float64Array(told.hands.length);
  let sum = 0;
  for (let task = 0; task < count; task++) {
    const first = modes[task][timetable.modes[task]]?.resources[0];
    if (first === undefined || !told.hands[first]) continue;
    loads[first] += minutes[task];
    sum += minutes[task];
  }
  const people = told.hands.reduce((n, is) => n + is, 0);
  const busiest = loads.reduce((most, load) => Math.max(most, load), 0);
  return PER_CHANGE * changesIn(problem, timetable) + (people > 0 ? PER_UNEVEN * (busiest - sum / people) : 0);
}

/**
 * Tasks that go to other hands or another bench than people were told, or move by more than half an hour.
 *
 * @example changesIn(problem, timetable) // 3 …
 */
export function changesIn({ told, count }: Problem, { starts, modes }: Timetable): number {
  if (!told) return 0;
  let changes = 0;
  for (let task = 0; task < count; task++) {
    const was = told.modes[task];
    if (was >= 0 && (modes[task] !== was || Math.abs(starts[task] - told.starts[task]) > ABOUT_THEN)) changes++;
  }
  return changes;
}

/**
 * Below 0 when the first is better.
 *
 * @example compareCosts({ unplaced: 0, aim: 55, second: 0, … }, { unplaced: 1, aim: 40, second: 0, … }) // -1
 */
export const compareCosts = (one: Cost, other: Cost): number =>
  one.unplaced - other.unplaced || one.aim - other.aim || one.second - other.second;
