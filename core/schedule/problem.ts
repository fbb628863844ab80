import { type Instance, usesOf } from "./instance";
import { wholeScale, wholeUnits } from "./scale";

/** One of the ways in which a piece of work can be done: what it holds while it lasts. */
export type Mode = { readonly resources: readonly number[]; readonly amounts: readonly number[] };

/** From when to when a resource is there, in whole units; sorted, apart from each other. */
export type Window = readonly [from: number, to: number];

export type Resource = { readonly capacity: number; readonly open: readonly Window[] | null };

/**
 * What the engine works on: everything by its place in an array, all times whole numbers. Beyond a bare instance it
 * knows opening hours, a choice of modes, an earliest start and what has begun already.
 */
export type Problem = {
  readonly count: number;
  readonly minutes: Float64Array;
  /** Not before this time, whatever else is finished. */
  readonly release: Float64Array;
  /** Infinity where nothing is due. */
  readonly due: Float64Array;
  readonly weight: Float64Array;
  readonly before: readonly (readonly number[])[];
  readonly after: readonly (readonly number[])[];
  readonly modes: readonly (readonly Mode[])[];
  readonly resources: readonly Resource[];
  /** A task that has begun stands where it stands; null for every other. */
  readonly begun: readonly ({ readonly start: number; readonly mode: number } | null)[];
  /**
   * The task whose mode is kept: the same hands at the same place; -1 for none. Others take over only where waiting for
   * these would cost more than `patience`.
   */
  readonly like: Int32Array;
  readonly patience: number;
  /** The one mode that somebody asked for; -1 where any will do. */
  readonly fixed: Int32Array;
  /** What people were told before; null where nobody was told anything. */
  readonly told: Told | null;
  readonly aim: Instance["aim"];
  /** Tasks so that each stands behind all that it waits for. */
  readonly sorted: readonly number[];
};

/** The timetable that people have, and whose hands are to be loaded evenly. */
export type Told = {
  /** Per task: its mode then, -1 where it is new; and its start. */
  readonly modes: Int32Array;
  readonly starts: Float64Array;
  /** What it may cost that a task which nobody has begun stays with whom people were told. */
  readonly patience: number;
  /** Per resource: whether it is a pair of hands. */
  readonly hands: Uint8Array;
};

export type Draft = {
  readonly tasks: readonly {
    readonly minutes: number;
    readonly modes: readonly Mode[];
    readonly before: readonly number[];
    readonly release?: number;
    readonly due?: number;
    readonly weight?: number;
    readonly begun?: { readonly start: number; readonly mode: number };
    readonly like?: number;
    readonly fixed?: number;
  }[];
  readonly told?: Told;
  readonly patience?: number;
  readonly resources: readonly Resource[];
  readonly aim: Instance["aim"];
};

/**
 * Makes a problem of its parts.
 *
 * @throws RangeError when tasks wait for each other in a ring
 */
export function makeProblem({ tasks, resources, aim, patience = 0, told }: Draft): Problem {
  const after: number[][] = tasks.map(() => []);
  const before = tasks.map((task) => [...new Set(task.before)]);
  before.forEach((list, task) => {
    for (const earlier of list) after[earlier].push(task);
  });
  return {
    count: tasks.length,
    minutes: Float64Array.from(tasks, (task) => task.minutes),
    release: Float64Array.from(tasks, (task) => task.release ?? 0),
    due: Float64Array.from(tasks, (task) => task.due ?? Number.POSITIVE_INFINITY),
    weight: Float64Array.from(tasks, (task) => task.weight ?? 1),
    before,
    after,
    modes: tasks.map((task) => task.modes),
    resources,
    begun: tasks.map((task) => task.begun ?? null),
    like: Int32Array.from(tasks, (task) => task.like ?? -1),
    patience,
    fixed: Int32Array.from(tasks, (task) => task.fixed ?? -1),
    told: told ?? null,
    aim,
    sorted: sorted(before, after),
  };
}

function sorted(before: readonly (readonly number[])[], after: readonly (readonly number[])[]): number[] {
  const waits = before.map((list) => list.length);
  const order = waits.flatMap((open, task) => (open === 0 ? [task] : []));
  for (let i = 0; i < order.length; i++) for (const task of after[order[i]]) if (--waits[task] === 0) order.push(task);
  if (order.length < before.length) throw new RangeError("tasks wait for each other in a ring");
  return order;
}

/** The same problem told from its end: a timetable of it, mirrored, is one of the first. Without hours of its own. */
export function mirrored(problem: Problem): Problem {
  return { ...problem, before: problem.after, after: problem.before, sorted: [...problem.sorted].reverse() };
}

/**
 * A bare instance as a problem.
 *
 * @returns scale   by which its minutes were multiplied, so that all are whole
 * @returns rounded minutes that all lengths together are longer than they are: a unit is a millionth at least
 * @example problemOf({ resources: [], tasks: [{ id: "a", minutes: 2.5, uses: [], after: [] }], aim: "makespan" }).scale // 10
 */
export function problemOf(instance: Instance): {
  readonly problem: Problem;
  readonly scale: number;
  readonly rounded: number;
} {
  const places = new Map(instance.tasks.map(({ id }, i) => [id, i]));
  const resourceAt = new Map(instance.resources.map(({ id }, i) => [id, i]));
  const scale = wholeScale(instance.tasks.flatMap(({ minutes, due }) => [minutes, due ?? 0]));
  const amountScale = wholeScale([
    ...instance.resources.map(({ capacity }) => capacity),
    ...instance.tasks.flatMap(({ uses }) => uses.map(({ amount }) => amount)),
  ]);
  const problem = makeProblem({
    aim: instance.aim,
    resources: instance.resources.map(({ capacity }) => ({ capacity: Math.round(capacity * amountScale), open: null })),
    tasks: instance.tasks.map((task) => {
      const uses = [...usesOf(task)].filter(([, amount]) => amount > 0);
      return {
        minutes: wholeUnits(task.minutes, scale),
        before: task.after.map((id) => places.get(id) as number),
        due: task.due === undefined ? undefined : task.due * scale,
        weight: task.weight,
        modes: [
          {
            resources: uses.map(([id]) => resourceAt.get(id) as number),
            amounts: uses.map(([, amount]) => Math.round(amount * amountScale)),
          },
        ],
      };
    }),
  });
  const more = instance.tasks.map(({ minutes }, task) => Math.max(0, problem.minutes[task] / scale - minutes));
  return { problem, scale, rounded: more.reduce((sum, each) => sum + each, 0) };
}
