import type { Instance, Solution } from "./instance";
import type { problemOf } from "./problem";
import { gapOf, type Progress } from "./solve";

/**
 * What solving came to, in the words and the minutes of the instance. Where lengths were rounded up, what is proven of the
 * longer ones is less by all of that: whoever puts in so much time behind each task has a timetable of those.
 *
 * @example solutionOf(instance, { scale: 1, rounded: 0, … }, progress).makespan // 55 …
 */
export function solutionOf(
  instance: Instance,
  { scale, rounded }: Pick<ReturnType<typeof problemOf>, "scale" | "rounded">,
  { timetable, cost, bound }: Progress,
): Solution {
  const { aim, tasks } = instance;
  const starts = tasks.map((_, task) => timetable.starts[task] / scale);
  const ends = tasks.map(({ minutes }, task) => starts[task] + minutes);
  const lateness = tasks.map(({ due = Number.POSITIVE_INFINITY, weight = 1 }, task) =>
    ends[task] > due ? weight * (ends[task] - due) : 0,
  );
  // Times that are whole in their unit are told as they were counted: sums of fractions are off in their last bits.
  const makespan = rounded === 0 ? cost.makespan / scale : ends.reduce((most, end) => Math.max(most, end), 0);
  const tardiness = rounded === 0 ? cost.tardiness / scale : lateness.reduce((sum, late) => sum + late, 0);
  const weights = tasks.reduce((sum, { weight = 1 }) => sum + weight, 0);
  const reached = aim === "makespan" ? makespan : tardiness;
  const proven = Math.min(reached, Math.max(0, bound / scale - rounded * (aim === "makespan" ? 1 : weights)));
  return {
    aim,
    makespan,
    tardiness,
    bound: proven,
    gap: gapOf({ aim: reached }, proven),
    tasks: tasks.map(({ id }, task) => ({ id, start: starts[task] })),
  };
}
