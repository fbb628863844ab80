import type { Problem } from "../problem";

/**
 * The one machine of each task, where every task holds at most one resource, and each resource serves one at a time
 * without a break; null where a problem is not of this kind. (Job shops and their like: what stands in which order
 * says everything.)
 */
export function machinesOf(problem: Problem): Int32Array | null {
  const { count, modes, resources, release, begun } = problem;
  if (resources.some(({ open }) => open)) return null;
  const machines = new Int32Array(count).fill(-1);
  for (let task = 0; task < count; task++) {
    if (modes[task].length !== 1 || begun[task] || release[task] > 0) return null;
    const [{ resources: held, amounts }] = modes[task];
    for (let k = 0; k < held.length; k++) {
      const { capacity } = resources[held[k]];
      // A resource that is never short does not matter; that is left to the other search.
      if (machines[task] >= 0 || 2 * amounts[k] <= capacity) return null;
      machines[task] = held[k];
    }
  }
  return machines;
}

/**
 * Whether something is due behind chains of tasks, and all that is held serves one task at a time without a break,
 * however many of them a task holds.
 */
export function dueInLine({ aim, modes, resources, begun, before }: Problem): boolean {
  if (aim !== "tardiness" || resources.some(({ open }) => open)) return false;
  if (before.every((list) => list.length === 0)) return false;
  return modes.every(
    (choice, task) =>
      choice.length === 1 &&
      !begun[task] &&
      choice[0].resources.every((resource, k) => 2 * choice[0].amounts[k] > resources[resource].capacity),
  );
}
