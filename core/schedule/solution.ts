import type { Instance, Solution } from "./instance";
import type { Progress } from "./solve";

/**
 * What solving came to, in the words and the minutes of the instance.
 *
 * @example solutionOf(instance, 1, progress).makespan // 55 …
 */
export function solutionOf(instance: Instance, scale: number, { timetable, cost, bound, gap }: Progress): Solution {
  const back = (time: number) => time / scale;
  return {
    aim: instance.aim,
    makespan: back(cost.makespan),
    tardiness: back(cost.tardiness),
    bound: back(bound),
    gap,
    tasks: instance.tasks.map(({ id }, task) => ({ id, start: back(timetable.starts[task]) })),
  };
}
