import type { Timetable } from "../build";
import type { Problem } from "../problem";

/** Lists one behind the other, and where each begins. */
function flat(lists: readonly (readonly number[])[]): [Int32Array, Int32Array] {
  const at = new Int32Array(lists.length + 1);
  for (const [k, list] of lists.entries()) at[k + 1] = at[k] + list.length;
  return [Int32Array.from(lists.flat()), at];
}

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
  /** What each task waits for, and what waits for it: those of task k stand from place k to place k + 1. */
  readonly befores: Int32Array;
  readonly beforeAt: Int32Array;
  readonly afters: Int32Array;
  readonly afterAt: Int32Array;
  /** Tasks that end a chain: one of them ends last. */
  private readonly lasts: readonly number[];
  private readonly waits: Int32Array;
  /** All tasks, each behind all that it waits for, as they were measured last; and where each stands. */
  private readonly order: Int32Array;
  private readonly place: Int32Array;
  private readonly marked: Uint8Array;
  private readonly aside: Int32Array;
  /** What was moved since then: one move is measured from where it was made, more are measured anew. */
  private moved: { readonly task: number; readonly other: number; readonly behind: boolean } | "much" | null = "much";

  constructor(
    problem: Problem,
    readonly machines: Int32Array,
  ) {
    this.count = problem.count;
    this.minutes = problem.minutes;
    [this.befores, this.beforeAt] = flat(problem.before);
    [this.afters, this.afterAt] = flat(problem.after);
    this.previous = new Int32Array(this.count).fill(-1);
    this.next = new Int32Array(this.count).fill(-1);
    this.heads = new Float64Array(this.count);
    this.tails = new Float64Array(this.count);
    this.chainHeads = new Float64Array(this.count);
    this.chainTails = new Float64Array(this.count);
    this.waits = new Int32Array(this.count);
    this.order = new Int32Array(this.count);
    this.place = new Int32Array(this.count);
    this.marked = new Uint8Array(this.count);
    this.aside = new Int32Array(this.count);
    this.lasts = Array.from({ length: this.count }, (_, task) => task).filter(
      (task) => problem.after[task].length === 0,
    );
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
    this.moved = "much";
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

  /** Works the paths out, all or those that a move can have changed; false when the order goes in a ring. */
  measure(): boolean {
    const { moved, count } = this;
    if (moved === "much") {
      if (!this.sort()) return false;
      this.measureHeads(0);
      this.measureTails(count - 1);
    } else if (moved) {
      const from = this.place[moved.behind ? moved.task : moved.other];
      const to = this.place[moved.behind ? moved.other : moved.task];
      if (!(moved.behind ? this.sortBehind(moved.task, from, to) : this.sortBefore(moved.task, from, to))) return false;
      this.measureHeads(from);
      this.measureTails(to);
    }
    this.moved = null;
    let length = 0;
    for (const task of this.lasts) length = Math.max(length, this.heads[task] + this.minutes[task]);
    this.length = length;
    return true;
  }

  /** Brings all tasks into an order in which each stands behind what it waits for; false where there is none. */
  private sort(): boolean {
    const { count, beforeAt, afterAt, afters, previous, next, waits, order, place } = this;
    let filled = 0;
    for (let task = 0; task < count; task++) {
      waits[task] = beforeAt[task + 1] - beforeAt[task] + (previous[task] >= 0 ? 1 : 0);
      if (waits[task] === 0) order[filled++] = task;
    }
    for (let k = 0; k < filled; k++) {
      const task = order[k];
      place[task] = k;
      for (let i = afterAt[task]; i < afterAt[task + 1]; i++) if (--waits[afters[i]] === 0) order[filled++] = afters[i];
      const follows = next[task];
      if (follows >= 0 && --waits[follows] === 0) order[filled++] = follows;
    }
    return filled === count;
  }

  /** A task went behind the one at the end of a stretch: what waits for it follows it there. */
  private sortBehind(task: number, from: number, to: number): boolean {
    const { order, marked, beforeAt, befores, previous } = this;
    marked[task] = 1;
    for (let k = from + 1; k <= to; k++) {
      const other = order[k];
      const beside = previous[other];
      let waits = beside >= 0 && marked[beside] === 1;
      for (let i = beforeAt[other]; i < beforeAt[other + 1] && !waits; i++) waits = marked[befores[i]] === 1;
      if (waits) marked[other] = 1;
    }
    return this.settle(from, to, marked[order[to]] === 0, 0);
  }

  /** A task went before the one at the beginning of a stretch: what it waits for goes ahead of it. */
  private sortBefore(task: number, from: number, to: number): boolean {
    const { order, marked, afterAt, afters, next } = this;
    marked[task] = 1;
    for (let k = to - 1; k >= from; k--) {
      const other = order[k];
      const follows = next[other];
      let leads = follows >= 0 && marked[follows] === 1;
      for (let i = afterAt[other]; i < afterAt[other + 1] && !leads; i++) leads = marked[afters[i]] === 1;
      if (leads) marked[other] = 1;
    }
    return this.settle(from, to, marked[order[from]] === 0, 1);
  }

  /** Puts the tasks of a stretch that bear this mark ahead of the others, if it can be; the marks are taken off. */
  private settle(from: number, to: number, possible: boolean, ahead: 0 | 1): boolean {
    const { order, place, marked, aside } = this;
    let first = from;
    let kept = 0;
    for (let k = from; k <= to; k++) {
      const task = order[k];
      if (possible && marked[task] === ahead) {
        place[task] = first;
        order[first++] = task;
      } else aside[kept++] = task;
      marked[task] = 0;
    }
    if (!possible) return false;
    for (let k = 0; k < kept; k++) {
      place[aside[k]] = first;
      order[first++] = aside[k];
    }
    return true;
  }

  private measureHeads(from: number): void {
    const { count, beforeAt, befores, previous, minutes, heads, order, chainHeads } = this;
    for (let k = from; k < count; k++) {
      const task = order[k];
      let head = 0;
      for (let i = beforeAt[task]; i < beforeAt[task + 1]; i++) {
        const end = heads[befores[i]] + minutes[befores[i]];
        if (end > head) head = end;
      }
      chainHeads[task] = head;
      const beside = previous[task];
      if (beside >= 0 && heads[beside] + minutes[beside] > head) head = heads[beside] + minutes[beside];
      heads[task] = head;
    }
  }

  private measureTails(to: number): void {
    const { afterAt, afters, next, minutes, tails, order, chainTails } = this;
    for (let k = to; k >= 0; k--) {
      const task = order[k];
      let tail = 0;
      for (let i = afterAt[task]; i < afterAt[task + 1]; i++) {
        const rest = tails[afters[i]] + minutes[afters[i]];
        if (rest > tail) tail = rest;
      }
      chainTails[task] = tail;
      const follows = next[task];
      if (follows >= 0 && tails[follows] + minutes[follows] > tail) tail = tails[follows] + minutes[follows];
      tails[task] = tail;
    }
  }

  /** Takes a task out of its machine's order and puts it right behind another. */
  moveBehind(task: number, other: number): void {
    this.moved = this.moved ? "much" : { task, other, behind: true };
    this.takeOut(task);
    const follows = this.next[other];
    this.next[other] = task;
    this.previous[task] = other;
    this.next[task] = follows;
    if (follows >= 0) this.previous[follows] = task;
  }

  /** … right before another. */
  moveBefore(task: number, other: number): void {
    this.moved = this.moved ? "much" : { task, other, behind: false };
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
    const { lasts, heads, tails, minutes, length, previous, beforeAt, befores, machines } = this;
    let task = -1;
    let seen = 0;
    // From the end backwards: the last critical task, each as likely as the others.
    for (const last of lasts)
      if (heads[last] + minutes[last] === length && tails[last] === 0 && below(++seen) === 0) task = last;
    const blocks: number[][] = [];
    let block: number[] = [];
    while (task >= 0) {
      block.push(task);
      const beside = previous[task];
      const byMachine = beside >= 0 && heads[beside] + minutes[beside] === heads[task] ? beside : -1;
      let byChain = -1;
      let ways = 0;
      for (let i = beforeAt[task]; i < beforeAt[task + 1]; i++)
        if (heads[befores[i]] + minutes[befores[i]] === heads[task] && below(++ways) === 0) byChain = befores[i];
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
