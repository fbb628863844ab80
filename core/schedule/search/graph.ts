import type { Timetable } from "../build";
import type { Problem } from "../problem";

/**
 * A job shop with an order on every machine. Heads and tails are the longest paths from the beginning and to the end;
 * a task is critical when head + minutes + tail is the whole length.
 */
export class Graph {
  readonly count: number;
  readonly minutes: Float64Array;
  /** Neighbours on the machine, -1 where there is none. */
  readonly previous: Int32Array;
  readonly next: Int32Array;
  readonly heads: Float64Array;
  readonly tails: Float64Array;
  /** What the chains alone (not the machine) say of head and of what lies behind. */
  readonly chainHeads: Float64Array;
  readonly chainTails: Float64Array;
  length = 0;
  private readonly waits: Int32Array;
  private readonly order: Int32Array;
  readonly before: readonly (readonly number[])[];
  readonly after: readonly (readonly number[])[];

  constructor(
    problem: Problem,
    readonly machines: Int32Array,
  ) {
    this.count = problem.count;
    this.minutes = problem.minutes;
    this.before = problem.before;
    this.after = problem.after;
    this.previous = new Int32Array(this.count).fill(-1);
    this.next = new Int32Array(this.count).fill(-1);
    this.heads = new Float64Array(this.count);
    this.tails = new Float64Array(this.count);
    this.chainHeads = new Float64Array(this.count);
    this.chainTails = new Float64Array(this.count);
    this.waits = new Int32Array(this.count);
    this.order = new Int32Array(this.count);
  }

  /** The machines in the order in which a timetable has their tasks. */
  orderBy({ starts }: Timetable): void {
    const { minutes } = this;
    const lists = new Map<number, number[]>();
    for (let task = 0; task < this.count; task++) {
      const machine = this.machines[task];
      if (machine < 0) continue;
      const list = lists.get(machine);
      if (list) list.push(task);
      else lists.set(machine, [task]);
    }
    this.orderAs(
      [...lists.values()].map((list) => list.sort((a, b) => starts[a] - starts[b] || minutes[a] - minutes[b] || a - b)),
    );
  }

  orderAs(lists: readonly (readonly number[])[]): void {
    this.previous.fill(-1);
    this.next.fill(-1);
    for (const list of lists)
      for (let k = 1; k < list.length; k++) {
        this.previous[list[k]] = list[k - 1];
        this.next[list[k - 1]] = list[k];
      }
  }

  /** Machines' orders as lists, for keeping. */
  lists(): number[][] {
    const lists: number[][] = [];
    for (let task = 0; task < this.count; task++) {
      if (this.machines[task] < 0 || this.previous[task] >= 0) continue;
      const list = [];
      for (let at = task; at >= 0; at = this.next[at]) list.push(at);
      lists.push(list);
    }
    return lists;
  }

  /** Works all paths out anew; false when the order goes in a ring. */
  measure(): boolean {
    const { count, before, after, previous, next, minutes, heads, tails, waits, order, chainHeads, chainTails } = this;
    let filled = 0;
    for (let task = 0; task < count; task++) {
      waits[task] = before[task].length + (previous[task] >= 0 ? 1 : 0);
      if (waits[task] === 0) order[filled++] = task;
    }
    let length = 0;
    for (let k = 0; k < filled; k++) {
      const task = order[k];
      const earlier = before[task];
      let head = 0;
      for (let i = 0; i < earlier.length; i++) {
        const end = heads[earlier[i]] + minutes[earlier[i]];
        if (end > head) head = end;
      }
      chainHeads[task] = head;
      const beside = previous[task];
      if (beside >= 0 && heads[beside] + minutes[beside] > head) head = heads[beside] + minutes[beside];
      heads[task] = head;
      if (head + minutes[task] > length) length = head + minutes[task];
      const later = after[task];
      for (let i = 0; i < later.length; i++) if (--waits[later[i]] === 0) order[filled++] = later[i];
      const follows = next[task];
      if (follows >= 0 && --waits[follows] === 0) order[filled++] = follows;
    }
    if (filled < count) return false;
    for (let k = count - 1; k >= 0; k--) {
      const task = order[k];
      const later = after[task];
      let tail = 0;
      for (let i = 0; i < later.length; i++) {
        const rest = tails[later[i]] + minutes[later[i]];
        if (rest > tail) tail = rest;
      }
      chainTails[task] = tail;
      const follows = next[task];
      if (follows >= 0 && tails[follows] + minutes[follows] > tail) tail = tails[follows] + minutes[follows];
      tails[task] = tail;
    }
    this.length = length;
    return true;
  }

  /** Takes a task out of its machine's order and puts it right behind another. */
  moveBehind(task: number, other: number): void {
    this.takeOut(task);
    const follows = this.next[other];
    this.next[other] = task;
    this.previous[task] = other;
    this.next[task] = follows;
    if (follows >= 0) this.previous[follows] = task;
  }

  /** … right before another. */
  moveBefore(task: number, other: number): void {
    this.takeOut(task);
    const leads = this.previous[other];
    this.previous[other] = task;
    this.next[task] = other;
    this.previous[task] = leads;
    if (leads >= 0) this.next[leads] = task;
  }

  private takeOut(task: number): void {
    const leads = this.previous[task];
    const follows = this.next[task];
    if (leads >= 0) this.next[leads] = follows;
    if (follows >= 0) this.previous[follows] = leads;
  }

  /** The machines' blocks (two tasks or more on end) along one longest path, chosen by chance where paths part. */
  criticalBlocks(below: (count: number) => number): number[][] {
    const { count, heads, tails, minutes, length, previous, before, machines } = this;
    let task = -1;
    let seen = 0;
    // From the end backwards: the last critical task, each as likely as the others.
    for (let k = 0; k < count; k++)
      if (heads[k] + minutes[k] === length && tails[k] === 0 && below(++seen) === 0) task = k;
    const blocks: number[][] = [];
    let block: number[] = [];
    while (task >= 0) {
      block.push(task);
      const beside = previous[task];
      const byMachine = beside >= 0 && heads[beside] + minutes[beside] === heads[task] ? beside : -1;
      let byChain = -1;
      let ways = 0;
      for (const earlier of before[task])
        if (heads[earlier] + minutes[earlier] === heads[task] && below(++ways) === 0) byChain = earlier;
      const onMachine = byMachine >= 0 && (byChain < 0 || below(2) === 0);
      const came = onMachine ? byMachine : byChain;
      if (!onMachine || (came >= 0 && machines[came] !== machines[task])) {
        if (block.length > 1) blocks.push(block.reverse());
        block = [];
      }
      task = heads[task] === 0 && minutes[task] > 0 ? -1 : came;
      if (task < 0 && block.length > 1) blocks.push(block.reverse());
    }
    return blocks;
  }
}
