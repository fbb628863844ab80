import { Builder, type Timetable } from "../build";
import type { Chance } from "../chance";
import { type Cost, compareCosts, costOf } from "../cost";
import { mirrored, type Problem } from "../problem";

/** How far back worse costs are still good enough (late acceptance). */
const MEMORY = 60;
/** Rounds without a better timetable before the search goes back to the best one. */
const PATIENCE = 3_000;
/** Rounds between two looks at the clock. */
const BREATH = 4;
/** How often a late task is pulled ahead with all that it waits for, and of how many more the latest is taken. */
const PULLED = 0.15;
const DRAWN = 3;

/**
 * Searches whatever can be said as an order of tasks: takes a good timetable, mixes the order of a stretch of it (or
 * moves single tasks, or a late one with its forerunners), builds anew, and keeps what is better or, for a while, hardly
 * worse. Where there are no hours to keep, each timetable is pushed to its end and back again, which closes gaps.
 * Yields each better timetable as it is found, and null where its caller may stop it.
 *
 * @source Burke and Bykov (2017), the late acceptance hill-climbing heuristic
 * @source Valls, Ballestín and Quintanilla (2005), justification: a technique that produces better schedules
 */
export function* searchOrders(problem: Problem, start: Timetable, chance: Chance): Generator<Timetable | null> {
  const { count } = problem;
  if (count < 2) return;
  const builder = new Builder(problem);
  const push = pushesOf(problem);
  let best = costOf(problem, start);
  let bestTimetable = start;
  let here = start;
  let hereCost = best;
  let idle = 0;
  const keys = new Float64Array(count);
  /** Costs of some rounds ago: what is no worse than then is taken. */
  const earlier: Cost[] = Array(MEMORY).fill(best);
  for (let round = 0; ; round++) {
    keys.set(here.starts);
    change(keys, here, problem, chance);
    let next = builder.build(keys);
    if (push) next = push(next);
    const cost = costOf(problem, next);
    if (compareCosts(cost, hereCost) <= 0 || compareCosts(cost, earlier[round % MEMORY]) <= 0) {
      here = next;
      hereCost = cost;
    }
    earlier[round % MEMORY] = hereCost;
    if (compareCosts(cost, best) < 0) {
      best = cost;
      bestTimetable = next;
      idle = 0;
      yield next;
    } else {
      // Too long nowhere: back to the best, and worse is taken again for a while.
      if (++idle % PATIENCE === 0) {
        here = bestTimetable;
        hereCost = best;
        earlier.fill({ ...best, aim: best.aim + Math.max(1, best.aim * 0.01 * (1 + chance.below(4))) });
      }
      if (round % BREATH === 0) yield null;
    }
  }
}

/** Makes other keys of the starts: an order close to the one that stands. */
function change(keys: Float64Array, { starts }: Timetable, problem: Problem, chance: Chance): void {
  const { count, minutes, aim } = problem;
  if (chance.next() < PULLED) {
    pull(keys, starts, problem, chance);
    return;
  }
  if (chance.next() < (aim === "tardiness" ? 0.5 : 0.75)) {
    // A stretch of the timetable, as long as some tasks, is mixed.
    const from = starts[chance.below(count)];
    const wanted = 3 + chance.below(Math.min(count, 30));
    const reach = (stretchOf(starts, minutes) * wanted) / count;
    for (let task = 0; task < count; task++)
      if (starts[task] + minutes[task] > from && starts[task] <= from + reach)
        keys[task] = from + chance.next() * reach;
    return;
  }
  // Single tasks go somewhere else: next to another one, often one that is late itself.
  const moves = 1 + chance.below(3);
  for (let k = 0; k < moves; k++) {
    const task = chance.below(count);
    const other = chance.below(count);
    if (chance.below(2) === 0) {
      const kept = keys[task];
      keys[task] = keys[other];
      keys[other] = kept;
    } else keys[task] = keys[other] + (chance.below(2) === 0 ? -0.5 : 0.5);
  }
}

/**
 * A late task goes ahead with all that it waits for: alone it could not, since its forerunners stay where they are.
 * (Evenings of 200 devices end two minutes sooner: measured.)
 */
function pull(keys: Float64Array, starts: Float64Array, { count, minutes, before }: Problem, chance: Chance): void {
  // Of some drawn by lot the one that ends last: what holds the whole up comes oftener.
  let last = chance.below(count);
  for (let k = 0; k < DRAWN; k++) {
    const other = chance.below(count);
    if (starts[other] + minutes[other] > starts[last] + minutes[last]) last = other;
  }
  // Most often not far: what it overtakes loses what it gains.
  const ahead = chance.next() * Math.min(starts[last], stretchOf(starts, minutes)) * (chance.below(3) === 0 ? 1 : 0.2);
  const seen = new Set<number>([last]);
  for (const task of seen) {
    keys[task] -= ahead;
    for (const earlier of before[task]) seen.add(earlier);
  }
}

/** From the first start to the last end of what was placed. */
function stretchOf(starts: Float64Array, minutes: Float64Array): number {
  let last = 0;
  for (let task = 0; task < starts.length; task++) {
    const end = starts[task] + minutes[task];
    if (end > last && end < Number.POSITIVE_INFINITY) last = end;
  }
  return last;
}

/** Pushes a timetable as late as it goes and back to the front; null where hours or fixed starts forbid mirroring. */
function pushesOf(problem: Problem): ((timetable: Timetable) => Timetable) | null {
  const { resources, release, begun, minutes, count } = problem;
  if (problem.aim !== "makespan" || resources.some(({ open }) => open)) return null;
  if (begun.some((each) => each) || release.some((time) => time > 0)) return null;
  const forward = new Builder(problem);
  const backward = new Builder(mirrored(problem));
  const keys = new Float64Array(count);
  return (timetable) => {
    for (let task = 0; task < count; task++) keys[task] = -(timetable.starts[task] + minutes[task]);
    const late = backward.build(keys);
    // In the mirror a task ends where it started: the earlier it ends there, the later it starts here.
    for (let task = 0; task < count; task++) keys[task] = -(late.starts[task] + minutes[task]);
    return forward.build(keys);
  };
}
