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
