import { Capacity } from "./capacity";
import type { Mode, Problem, Resource } from "./problem";

/**
 * A proven lower bound for the aim, from what can be counted without searching: the longest chain, what each resource
 * has to bear (with the least that comes before and after its tasks), and for a resource that serves one at a time the
 * best timetable in which work may be broken off.
 *
 * @returns the bound in the problem's unit of time (for lateness: times weight)
 */
export function lowerBound(problem: Problem): number {
  return problem.aim === "makespan" ? makespanBound(problem) : tardinessBound(problem);
}

/** Earliest starts (heads) and the least time behind each end (tails), by the chains alone. */
export function headsAndTails(problem: Problem): { readonly heads: Float64Array; readonly tails: Float64Array } {
  const { count, minutes, release, before, after, sorted, begun, modes } = problem;
  const heads = new Float64Array(count);
  const tails = new Float64Array(count);
  for (const task of sorted) {
    const stands = begun[task];
    let head = release[task];
    for (const earlier of before[task]) head = Math.max(head, heads[earlier] + minutes[earlier]);
    heads[task] = stands ? stands.start : earliestOpen(problem, modes[task], head, minutes[task]);
  }
  for (let k = count - 1; k >= 0; k--) {
    const task = sorted[k];
    for (const later of after[task]) tails[task] = Math.max(tails[task], tails[later] + minutes[later]);
  }
  return { heads, tails };
}

/** The earliest time at which all resources of one of its modes are open for so long. */
function earliestOpen({ resources }: Problem, modes: Problem["modes"][number], from: number, minutes: number): number {
  if (minutes === 0) return from;
  let best = Number.POSITIVE_INFINITY;
  for (const mode of modes) {
    let start = from;
    for (let held = 0, k = 0; held < mode.resources.length; k = (k + 1) % mode.resources.length) {
      const next = nextOpen(resources[mode.resources[k]], start, minutes);
      held = next > start ? 1 : held + 1;
      start = next;
      if (start === Number.POSITIVE_INFINITY) break;
    }
    best = Math.min(best, start);
  }
  return best;
}

function nextOpen({ open }: Resource, from: number, minutes: number): number {
  if (!open) return from;
  for (const [opens, closes] of open) if (closes - Math.max(from, opens) >= minutes) return Math.max(from, opens);
  return Number.POSITIVE_INFINITY;
}

function makespanBound(problem: Problem): number {
  const { count, minutes } = problem;
  const { heads, tails } = headsAndTails(problem);
  let bound = 0;
  for (let task = 0; task < count; task++)
    if (heads[task] < Number.POSITIVE_INFINITY) bound = Math.max(bound, heads[task] + minutes[task] + tails[task]);
  for (const pool of poolsOf(problem)) {
    bound = Math.max(bound, energyBound(problem, pool, heads, tails));
    if (pool.single) bound = Math.max(bound, preemptiveBound(problem, pool, heads, tails));
  }
  return bound;
}

/**
 * Resources that stand for each other (the volunteers who may do the same), and the tasks that take from them in
 * every one of their modes. A pool of one resource is the plain case.
 */
type Pool = {
  readonly resources: readonly number[];
  readonly tasks: readonly number[];
  /** What each task takes at least, in the order of `tasks`. */
  readonly amounts: readonly number[];
  /** It serves one task at a time and is never closed. */
  readonly single: boolean;
};

function poolsOf({ count, modes, resources }: Problem): Pool[] {
  const sets = new Map<string, readonly number[]>();
  for (let r = 0; r < resources.length; r++) sets.set(String(r), [r]);
  // Most tasks share their choice of modes with others.
  for (const choice of new Set(modes)) {
    if (choice.length < 2) continue;
    // The k-th thing held in each mode: volunteers stand at the same place of every mode.
    for (let k = 0; k < choice[0].resources.length; k++) {
      const set = [...new Set(choice.map((mode) => mode.resources[k] ?? -1))].sort((a, b) => a - b);
      if (set[0] >= 0) sets.set(set.join(","), set);
    }
  }
  return [...sets.values()].map((set) => {
    const inside = new Set(set);
    const least = new Map<readonly Mode[], number>();
    const tasks: number[] = [];
    const amounts: number[] = [];
    for (let task = 0; task < count; task++) {
      let taken = least.get(modes[task]);
      if (taken === undefined) {
        taken = leastTaken(modes[task], inside);
        least.set(modes[task], taken);
      }
      if (taken > 0 && taken < Number.POSITIVE_INFINITY) {
        tasks.push(task);
        amounts.push(taken);
      }
    }
    const { capacity, open } = resources[set[0]];
    const single = set.length === 1 && !open && amounts.every((amount) => 2 * amount > capacity);
    return { resources: set, tasks, amounts, single };
  });
}

/** What a task takes at least from a pool, whatever mode it has. */
function leastTaken(choice: readonly Mode[], pool: ReadonlySet<number>): number {
  let least = Number.POSITIVE_INFINITY;
  for (const mode of choice) {
    let taken = 0;
    for (let k = 0; k < mode.resources.length; k++) if (pool.has(mode.resources[k])) taken += mode.amounts[k];
    least = Math.min(least, taken);
  }
  return least;
}

/**
 * Whoever works from the smallest head on has to bear all of it before the smallest tail: looked at for every head,
 * with the tasks that begin no earlier, and likewise by the tails.
 */
function energyBound(problem: Problem, pool: Pool, heads: Float64Array, tails: Float64Array): number {
  const { minutes, resources } = problem;
  const capacity = new Capacity(pool.resources.map((r) => resources[r]));
  const places = pool.tasks.map((_, i) => i).sort((a, b) => heads[pool.tasks[b]] - heads[pool.tasks[a]]);
  let bound = 0;
  let energy = 0;
  let tail = Number.POSITIVE_INFINITY;
  places.forEach((place, k) => {
    const task = pool.tasks[place];
    energy += minutes[task] * pool.amounts[place];
    tail = Math.min(tail, tails[task]);
    const next = places[k + 1];
    if (next !== undefined && heads[pool.tasks[next]] === heads[task]) return;
    if (heads[task] === Number.POSITIVE_INFINITY) {
      // Never open for it: it is told as having no room, and bounds nothing.
      energy = 0;
      tail = Number.POSITIVE_INFINITY;
      return;
    }
    bound = Math.max(bound, capacity.whenBorne(heads[task], energy) + tail);
  });
  // The other way round: all whose tail is at least this long, begun at the smallest of their heads.
  places.sort((a, b) => tails[pool.tasks[b]] - tails[pool.tasks[a]]);
  energy = 0;
  let head = Number.POSITIVE_INFINITY;
  for (const place of places) {
    const task = pool.tasks[place];
    if (heads[task] === Number.POSITIVE_INFINITY) continue;
    energy += minutes[task] * pool.amounts[place];
    head = Math.min(head, heads[task]);
    bound = Math.max(bound, capacity.whenBorne(head, energy) + tails[task]);
  }
  return bound;
}

/**
 * One at a time, work may be broken off: always the available task with the longest tail.
 *
 * @source Jackson's preemptive schedule; Carlier (1982), The one-machine sequencing problem
 */
function preemptiveBound({ minutes }: Problem, { tasks }: Pool, heads: Float64Array, tails: Float64Array): number {
  const order = tasks.filter((task) => heads[task] < Number.POSITIVE_INFINITY).sort((a, b) => heads[a] - heads[b]);
  const left = new Map(order.map((task) => [task, minutes[task]]));
  const ready: number[] = [];
  let bound = 0;
  let time = 0;
  let next = 0;
  while (next < order.length || ready.length) {
    if (ready.length === 0) time = Math.max(time, heads[order[next]]);
    while (next < order.length && heads[order[next]] <= time) ready.push(order[next++]);
    let at = 0;
    for (let k = 1; k < ready.length; k++) if (tails[ready[k]] > tails[ready[at]]) at = k;
    const task = ready[at];
    const rest = left.get(task) as number;
    const until = Math.min(time + rest, next < order.length ? heads[order[next]] : Number.POSITIVE_INFINITY);
    left.set(task, rest - (until - time));
    time = until;
    if (left.get(task) === 0) {
      bound = Math.max(bound, time + tails[task]);
      ready.splice(at, 1);
    }
  }
  return bound;
}

/**
 * Late minutes that nothing can save: each task on its own chain; and where one at a time is served, the k shortest
 * tasks end no earlier than their sum, held against the k-th due time, at the smallest weight.
 *
 * @source Kondakci, Kırca and Azizoğlu (1994), lower bound for single-machine total tardiness
 */
function tardinessBound(problem: Problem): number {
  const { count, minutes, due, weight } = problem;
  const { heads } = headsAndTails(problem);
  let chains = 0;
  for (let task = 0; task < count; task++) {
    const late = heads[task] + minutes[task] - due[task];
    if (late > 0 && late < Number.POSITIVE_INFINITY) chains += weight[task] * late;
  }
  let bound = chains;
  for (const { single, tasks } of poolsOf(problem)) {
    if (!single) continue;
    const dated = tasks.filter(
      (task) => due[task] < Number.POSITIVE_INFINITY && heads[task] < Number.POSITIVE_INFINITY,
    );
    const lengths = dated.map((task) => minutes[task]).sort((a, b) => a - b);
    const dues = dated.map((task) => due[task]).sort((a, b) => a - b);
    const least = Math.min(...dated.map((task) => weight[task]));
    let end = Math.min(...dated.map((task) => heads[task]));
    let sum = 0;
    lengths.forEach((length, k) => {
      end += length;
      sum += Math.max(0, end - dues[k]);
    });
    if (dated.length) bound = Math.max(bound, sum * least);
  }
  return bound;
}
