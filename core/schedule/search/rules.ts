import { headsAndTails } from "../bound";
import { Builder, type Timetable } from "../build";
import { compareCosts, costOf } from "../cost";
import type { Problem } from "../problem";

/**
 * The best of the timetables that the well-known priority rules give: most work behind, latest finish, least slack,
 * earliest due, due times weight, first ready.
 */
export function byRules(problem: Problem): Timetable {
  const { count, minutes, due, weight } = problem;
  const { heads, tails } = headsAndTails(problem);
  const dues = dueOf(problem);
  const rules: ((task: number) => number)[] = [
    (task) => -(tails[task] + minutes[task]),
    (task) => heads[task],
    (task) => heads[task] - tails[task],
    (task) => -tails[task],
    (task) => minutes[task],
    (task) => dues[task],
    (task) => dues[task] - tails[task] - minutes[task],
    (task) => minutes[task] / Math.max(1e-9, weight[task]),
    (task) => (due[task] < Number.POSITIVE_INFINITY ? due[task] / Math.max(1e-9, weight[task]) : dues[task]),
  ];
  const builder = new Builder(problem);
  const keys = new Float64Array(count);
  let best: Timetable | null = null;
  for (const rule of rules) {
    for (let task = 0; task < count; task++) keys[task] = rule(task);
    const timetable = builder.build(keys);
    if (!best || compareCosts(costOf(problem, timetable), costOf(problem, best)) < 0) best = timetable;
  }
  return best as Timetable;
}

/** By when a task has to end so that what is due behind it can still come in time. */
function dueOf({ count, sorted, after, due, minutes }: Problem): Float64Array {
  const dues = Float64Array.from(due);
  for (let k = count - 1; k >= 0; k--)
    for (const later of after[sorted[k]]) dues[sorted[k]] = Math.min(dues[sorted[k]], dues[later] - minutes[later]);
  // Nothing due behind it: last, but in an order of numbers.
  return dues.map((time) => (time === Number.POSITIVE_INFINITY ? 1e12 : time));
}
