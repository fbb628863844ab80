import type { Problem } from "./problem";

/** Starts no earlier than `early`, ends no later than `late`, per task; every pair of a machine in one order or open. */
type Domains = { readonly early: Float64Array; readonly late: Float64Array };

/**
 * Proves by complete search that a job shop can't end within `limit`: machines' tasks are put first, one after the
 * other, and every choice is narrowed by what must come before what (edge finding). Yields null where its caller may
 * stop it; returns starts that do end within it, or "impossible".
 *
 * @source Carlier and Pinson (1989), An algorithm for solving the job-shop problem; edge finding after Baptiste, Le
 * Pape and Nuijten (2001), Constraint-based scheduling
 */
export function* proveShop(
  problem: Problem,
  machines: Int32Array,
  limit: number,
): Generator<null, Float64Array | "impossible"> {
  const lists = listsOf(machines);
  const sides = lists.map((list) => new OneMachine(list, problem.minutes));
  const root: Domains = {
    early: new Float64Array(problem.count),
    late: new Float64Array(problem.count).fill(limit),
  };
  const choices: { domains: Domains; list: readonly number[]; order: readonly number[]; next: number }[] = [];
  /** Tasks of a machine that are put in their place already. */
  let open: Domains | null = narrow(problem, sides, root) ? root : null;
  for (;;) {
    yield null;
    if (open) {
      const list = tightest(lists, problem, open);
      if (!list) {
        // Every machine's order is said: the earliest starts keep all of it.
        return open.early;
      }
      choices.push({ domains: open, list, order: candidates(list, open), next: 0 });
    }
    // The next candidate of the deepest choice that has one.
    let choice = choices.at(-1);
    while (choice && choice.next === choice.order.length) {
      choices.pop();
      choice = choices.at(-1);
    }
    if (!choice) return "impossible";
    const first = choice.order[choice.next++];
    const domains = { early: choice.domains.early.slice(), late: choice.domains.late.slice() };
    open = putFirst(problem, first, choice.list, domains) && narrow(problem, sides, domains) ? domains : null;
  }
}

function listsOf(machines: Int32Array): number[][] {
  const lists = new Map<number, number[]>();
  machines.forEach((machine, task) => {
    if (machine < 0) return;
    const list = lists.get(machine);
    if (list) list.push(task);
    else lists.set(machine, [task]);
  });
  return [...lists.values()];
}

/** Whether one of two tasks of a machine is certain to be before the other. */
const inOrder = (one: number, other: number, { minutes }: Problem, { early, late }: Domains) =>
  early[one] + minutes[one] + minutes[other] > late[other] || early[other] + minutes[other] + minutes[one] > late[one];

/** The tasks of the machine with the least room that are not yet in one order; null when all machines are ordered. */
function tightest(lists: readonly number[][], problem: Problem, domains: Domains): readonly number[] | null {
  const { minutes } = problem;
  const { early, late } = domains;
  let best: readonly number[] | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const list of lists) {
    const loose = list.filter((one) =>
      list.some(
        (other) => other !== one && !inOrder(one, other, problem, domains) && minutes[one] + minutes[other] > 0,
      ),
    );
    if (loose.length < 2) continue;
    let from = Number.POSITIVE_INFINITY;
    let to = 0;
    let work = 0;
    for (const task of loose) {
      from = Math.min(from, early[task]);
      to = Math.max(to, late[task]);
      work += minutes[task];
    }
    const room = (to - from - work) * Math.sqrt(loose.length);
    if (room < least) {
      least = room;
      best = loose;
    }
  }
  return best;
}

/** Who could be first of these, the one that is due soonest first. */
const candidates = (list: readonly number[], { early, late }: Domains) =>
  [...list].sort((a, b) => early[a] - early[b] || late[a] - late[b]);

/** A task is before all others of a list; false when it can't be. */
function putFirst({ minutes }: Problem, first: number, list: readonly number[], { early, late }: Domains): boolean {
  for (const task of list) {
    if (task === first) continue;
    early[task] = Math.max(early[task], early[first] + minutes[first]);
    late[first] = Math.min(late[first], late[task] - minutes[task]);
    if (early[task] + minutes[task] > late[task]) return false;
  }
  return early[first] + minutes[first] <= late[first];
}

/** Narrows the domains until nothing changes any more; false when a task has no room left. */
function narrow(problem: Problem, sides: readonly OneMachine[], domains: Domains): boolean {
  const { sorted, before, after, minutes } = problem;
  const { early, late } = domains;
  for (let changed = true; changed; ) {
    for (const task of sorted)
      for (const earlier of before[task])
        if (early[earlier] + minutes[earlier] > early[task]) early[task] = early[earlier] + minutes[earlier];
    for (let k = sorted.length - 1; k >= 0; k--) {
      const task = sorted[k];
      for (const later of after[task])
        if (late[later] - minutes[later] < late[task]) late[task] = late[later] - minutes[later];
      if (early[task] + minutes[task] > late[task]) return false;
    }
    changed = false;
    for (const side of sides) {
      const came = side.narrow(domains);
      if (came === null) return false;
      changed ||= came;
    }
  }
  return true;
}

/** What one machine says of its tasks' times. */
class OneMachine {
  private readonly from: Float64Array;
  private readonly to: Float64Array;
  private readonly long: Float64Array;

  constructor(
    private readonly list: readonly number[],
    private readonly minutes: Float64Array,
  ) {
    this.from = new Float64Array(list.length);
    this.to = new Float64Array(list.length);
    this.long = Float64Array.from(list, (task) => minutes[task]);
  }

  /** Whether anything was narrowed; null when they can't all be done. */
  narrow({ early, late }: Domains): boolean | null {
    const { list, from, to, minutes } = this;
    let changed = false;
    // Pairs: who does not fit before another comes behind it.
    for (const one of list)
      for (const other of list) {
        if (one === other || early[one] + minutes[one] + minutes[other] <= late[other]) continue;
        // `one` can't be before `other`, so it is behind it.
        if (early[other] + minutes[other] > early[one]) {
          early[one] = early[other] + minutes[other];
          changed = true;
        }
        if (late[one] - minutes[one] < late[other]) {
          late[other] = late[one] - minutes[one];
          changed = true;
        }
        if (early[one] + minutes[one] > late[one] || early[other] + minutes[other] > late[other]) return null;
      }
    // Edges forwards, then the same in the mirror.
    list.forEach((task, k) => {
      from[k] = early[task];
      to[k] = late[task];
    });
    const forwards = this.edges();
    if (forwards === null) return null;
    list.forEach((task, k) => {
      if (from[k] > early[task]) early[task] = from[k];
      from[k] = -late[task];
      to[k] = -early[task];
    });
    const backwards = this.edges();
    if (backwards === null) return null;
    list.forEach((task, k) => {
      if (-from[k] < late[task]) late[task] = -from[k];
    });
    return changed || forwards || backwards;
  }

  /**
   * Edge finding: a set that ends too late with another task among or before it has that task behind all of it.
   * Raises `from` where that is so; quadratic in the number of tasks for each end.
   */
  private edges(): boolean | null {
    const { from, to, long } = this;
    const size = from.length;
    const raised = from.slice();
    let changed = false;
    const byFrom = Array.from(from.keys()).sort((a, b) => from[a] - from[b]);
    for (const end of new Set(to)) {
      // From the latest start down: the set of all that end by `end` and start no earlier than here.
      let work = 0;
      /** Earliest end of the sets so far, and the same with suffixes kept per start. */
      let setEnd = Number.NEGATIVE_INFINITY;
      for (let k = size - 1; k >= 0; k--) {
        const task = byFrom[k];
        if (to[task] > end) continue;
        work += long[task];
        setEnd = Math.max(setEnd, from[task] + work);
        if (from[task] + work > end) return null;
        // Whoever ends later and does not fit in beside this set is behind it.
        for (let other = 0; other < size; other++) {
          if (to[other] <= end) continue;
          if (Math.min(from[task], from[other]) + work + long[other] > end && setEnd > raised[other]) {
            raised[other] = setEnd;
            changed = true;
          }
        }
      }
    }
    if (changed) from.set(raised);
    return changed;
  }
}
