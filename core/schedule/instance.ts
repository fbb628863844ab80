import { z } from "zod";
import { isCountable, wholeScale } from "./scale";

const minutes = z.number().finite().nonnegative();
/** Many instances number their tasks: 1 and "1" are two ids, and come back as they were written. */
const id = z.union([z.string().min(1).max(200), z.number().int()], { error: "an id is a text or a whole number" });
/** Left out, or said to be nothing. */
const maybe = <T extends z.ZodType>(type: T) =>
  type
    .nullish()
    .transform((value) => value ?? undefined)
    .optional();

/** A piece of work: how long it takes, what it holds meanwhile, what must be finished before it. */
export const Task = z.object({
  id,
  minutes,
  uses: z.array(z.object({ resource: id, amount: z.number().finite().nonnegative() })).default([]),
  after: z.array(id).default([]),
  /** Minute by which it should have ended; late minutes count `weight` times. */
  due: maybe(z.number().finite()),
  weight: maybe(minutes),
});

/**
 * A bare instance, as it is written in a file: all resources are there from minute 0 on, without a break, and a piece
 * of work that has begun goes on to its end.
 */
export const Instance = z.object({
  resources: z.array(z.object({ id, capacity: z.number().finite().nonnegative() })),
  tasks: z.array(Task),
  aim: z.enum(["makespan", "tardiness"]).default("makespan"),
});
export type Instance = z.infer<typeof Instance>;
export type Id = z.infer<typeof id>;

/** What solving an instance gives; `bound` is proven, for whatever is aimed at. */
export type Solution = {
  readonly aim: Instance["aim"];
  readonly makespan: number;
  /** Sum over all tasks of late minutes times weight. */
  readonly tardiness: number;
  /** No timetable can be better than this, in the unit of the aim. */
  readonly bound: number;
  /** Distance of what was found to the bound, as a part of what was found: 0 is proven best. */
  readonly gap: number;
  readonly tasks: readonly { readonly id: Id; readonly start: number }[];
};

/** Something in an instance that can't be solved: what, where and what to do. */
export class InstanceError extends Error {
  constructor(readonly problems: readonly string[]) {
    super(problems.join("\n"));
    this.name = "InstanceError";
  }
}

/** More of them are not told one by one. */
const MOST_PROBLEMS = 20;
/** More than this would hold this machine for longer than anybody waits. */
export const MOST_TASKS = 50_000;

/**
 * Reads an instance from text.
 *
 * @throws InstanceError with everything that is wrong with it, each with its place
 * @example readInstance('{"resources":[],"tasks":[]}').aim // "makespan"
 */
export function readInstance(text: string): Instance {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    throw new InstanceError([`This is not JSON: ${(error as Error).message}. Write {"resources": […], "tasks": […]}`]);
  }
  const read = Instance.safeParse(json);
  if (!read.success) {
    const { issues } = read.error;
    throw new InstanceError(
      cut(issues.map(({ path, message }) => `${path.length ? path.join(".") : "the file"}: ${message}`)),
    );
  }
  const problems = problemsOf(read.data);
  if (problems.length) throw new InstanceError(cut(problems));
  return read.data;
}

const cut = (problems: readonly string[]) =>
  problems.length <= MOST_PROBLEMS
    ? problems
    : [...problems.slice(0, MOST_PROBLEMS), `and ${problems.length - MOST_PROBLEMS} more`];

/** Everything that makes an instance impossible; empty when it can be solved. */
export function problemsOf(instance: Instance): string[] {
  const { resources, tasks } = instance;
  const problems: string[] = [];
  if (tasks.length > MOST_TASKS)
    return [`There are ${tasks.length} tasks, at most ${MOST_TASKS} are taken: divide the instance`];
  const capacity = new Map<Id, number>();
  for (const { id, capacity: most } of resources) {
    if (capacity.has(id)) problems.push(`Resource “${id}” is there twice: give each an id of its own`);
    capacity.set(id, most);
  }
  const ids = new Set<Id>();
  for (const { id } of tasks) {
    if (ids.has(id)) problems.push(`Task “${id}” is there twice: give each an id of its own`);
    ids.add(id);
  }
  for (const task of tasks) {
    for (const before of task.after)
      if (!ids.has(before)) problems.push(`Task “${task.id}” is after “${before}”, which is not among the tasks`);
    for (const [resource, amount] of usesOf(task)) {
      const most = capacity.get(resource);
      if (most === undefined) problems.push(`Task “${task.id}” uses “${resource}”, which is not among the resources`);
      else if (amount > most)
        problems.push(
          `Task “${task.id}” uses ${amount} of “${resource}”, which has ${most}: it would need ${amount - most} more of it`,
        );
    }
  }
  problems.push(...uncountable(instance));
  if (problems.length === 0) {
    const cycle = cycleOf(tasks);
    if (cycle) problems.push(`These tasks wait for each other, so none can begin: ${cycle.join(" → ")}`);
  }
  return problems;
}

/** What could not be counted to the last unit: amounts that are too fine, or too much of anything. */
function uncountable({ resources, tasks }: Instance): string[] {
  const fine = (where: string, value: number) =>
    isCountable(value) ? [] : [`${where} is ${value}: six decimals can be counted; write whole numbers`];
  const problems = [
    ...resources.flatMap(({ id, capacity }) => fine(`The capacity of “${id}”`, capacity)),
    ...tasks.flatMap(({ id, uses }) =>
      uses.flatMap(({ resource, amount }) => fine(`What task “${id}” uses of “${resource}”`, amount)),
    ),
  ];
  if (problems.length) return problems;
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + Math.abs(value), 0);
  const lengths = tasks.map((task) => task.minutes);
  const dues = tasks.map(({ due = 0 }) => due);
  const latest = (sum(lengths) + Math.max(0, ...dues.map(Math.abs))) * wholeScale([...lengths, ...dues]);
  const amounts = tasks.flatMap(({ uses }) => uses.map(({ amount }) => amount));
  const tooMuch = (what: string, most: number) =>
    most <= Number.MAX_SAFE_INTEGER
      ? []
      : [
          `${what} may come to ${most} of the smallest unit, ${Number.MAX_SAFE_INTEGER} can be counted: take a larger unit`,
        ];
  return [
    ...tooMuch("All lengths one behind the other, with what is due,", latest),
    ...tooMuch("What is late, times its weight,", latest * sum(tasks.map(({ weight = 1 }) => weight))),
    ...tooMuch("What all tasks hold", sum(amounts) * wholeScale(amounts)),
  ].slice(0, 1);
}

/** What a task holds, with a resource that is named twice added up. */
export function usesOf(task: Pair): Map<Id, number> {
  const uses = new Map<Id, number>();
  for (const { resource, amount } of task.uses) uses.set(resource, (uses.get(resource) ?? 0) + amount);
  return uses;
}
type Pair = { readonly uses: readonly { readonly resource: Id; readonly amount: number }[] };

/** A ring of tasks each of which is after the one before, with the first again at its end; null where there is none. */
function cycleOf(tasks: Instance["tasks"]): Id[] | null {
  const byId = new Map(tasks.map((task) => [task.id, task]));
  const state = new Map<Id, "open" | "done">();
  for (const { id } of tasks) {
    // With a stack of its own: a chain of many thousand tasks would overflow the machine's.
    const path: { id: Id; next: number }[] = [];
    if (!state.has(id)) path.push({ id, next: 0 });
    if (path.length) state.set(id, "open");
    while (path.length) {
      const top = path[path.length - 1];
      const before = byId.get(top.id)?.after[top.next++];
      if (before === undefined) {
        state.set(top.id, "done");
        path.pop();
      } else if (state.get(before) === "open") {
        const ring = path.slice(path.findIndex((each) => each.id === before)).map((each) => each.id);
        return [before, ...ring.reverse()];
      } else if (!state.has(before)) {
        state.set(before, "open");
        path.push({ id: before, next: 0 });
      }
    }
  }
  return null;
}
