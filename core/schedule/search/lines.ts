import type { Timetable } from "../build";
import type { Problem } from "../problem";

/**
 * What stands in line: resources that serve one at a time, and the order in which they serve. A task may stand in
 * several lines at once. Heads are the longest paths from the beginning.
 */
export class Lines {
  readonly count: number;
  readonly heads: Float64Array;
  readonly minutes: Float64Array;
  private readonly release: Float64Array;
  /** A place in one line is a seat: those of task k are numbered from place k to place k + 1. */
  private readonly seatAt: Int32Array;
  private readonly lineOf: Int32Array;
  private readonly taskOf: Int32Array;
  /** Neighbouring seats, -1 where there is none. */
  private readonly previous: Int32Array;
  private readonly next: Int32Array;
  private readonly befores: Int32Array;
  private readonly beforeAt: Int32Array;
  /** All tasks, each behind all that it waits for; and where each stands. */
  private readonly order: Int32Array;
  private readonly place: Int32Array;
  private readonly marked: Uint8Array;
  private readonly aside: Int32Array;
  private readonly keptHeads: Float64Array;
  private readonly keptOrder: Int32Array;
  /** Pairs of seats that changed places since it was kept. */
  private readonly turned: number[] = [];

  /** @param start the lines serve in the order of this timetable */
  constructor(
    private readonly problem: Problem,
    start: Timetable,
  ) {
    const { count, modes, before, minutes, release } = problem;
    this.count = count;
    this.minutes = minutes;
    this.release = release;
    this.heads = new Float64Array(count);
    this.seatAt = new Int32Array(count + 1);
    this.beforeAt = new Int32Array(count + 1);
    for (let task = 0; task < count; task++) {
      this.seatAt[task + 1] = this.seatAt[task] + modes[task][0].resources.length;
      this.beforeAt[task + 1] = this.beforeAt[task] + before[task].length;
    }
    this.lineOf = Int32Array.from(modes.flatMap(([{ resources }]) => [...resources]));
    this.befores = Int32Array.from(before.flat());
    this.taskOf = new Int32Array(this.lineOf.length);
    for (let task = 0; task < count; task++) this.taskOf.fill(task, this.seatAt[task], this.seatAt[task + 1]);
    this.previous = new Int32Array(this.lineOf.length).fill(-1);
    this.next = new Int32Array(this.lineOf.length).fill(-1);
    this.order = new Int32Array(count);
    this.place = new Int32Array(count);
    this.marked = new Uint8Array(count);
    this.aside = new Int32Array(count);
    this.keptHeads = new Float64Array(count);
    this.keptOrder = new Int32Array(count);
    this.orderBy(start);
  }

  /** Lines and order as a timetable has them; what starts together stands as the chains have it. */
  orderBy({ starts }: Timetable): void {
    const { sorted, minutes } = this.problem;
    const rank = new Int32Array(this.count);
    for (const [k, task] of sorted.entries()) rank[task] = k;
    const { order, place, previous, next, lineOf, seatAt } = this;
    order.set([...sorted].sort((a, b) => starts[a] - starts[b] || minutes[a] - minutes[b] || rank[a] - rank[b]));
    previous.fill(-1);
    next.fill(-1);
    const last = new Map<number, number>();
    for (let k = 0; k < this.count; k++) {
      const task = order[k];
      place[task] = k;
      for (let seat = seatAt[task]; seat < seatAt[task + 1]; seat++) {
        const before = last.get(lineOf[seat]) ?? -1;
        previous[seat] = before;
        if (before >= 0) next[before] = seat;
        last.set(lineOf[seat], seat);
      }
    }
    this.measure(0);
    this.keep();
  }

  /** What stands now is what `undo` comes back to. */
  keep(): void {
    this.keptHeads.set(this.heads);
    this.keptOrder.set(this.order);
    this.turned.length = 0;
  }

  undo(): void {
    this.turnBack(0);
    this.heads.set(this.keptHeads);
    this.order.set(this.keptOrder);
    for (let k = 0; k < this.count; k++) this.place[this.order[k]] = k;
  }

  /**
   * Seats that a longest path to a task comes through right behind their neighbour in line: what can be turned round
   * so that it may end sooner.
   */
  tightSeats(task: number, below: (count: number) => number, into: number[]): void {
    const { heads, minutes, seatAt, previous, taskOf, beforeAt, befores } = this;
    into.length = 0;
    for (let here = task; here >= 0; ) {
      const head = heads[here];
      let from = -1;
      let by = -1;
      let ways = 0;
      for (let i = beforeAt[here]; i < beforeAt[here + 1]; i++)
        if (heads[befores[i]] + minutes[befores[i]] === head && below(++ways) === 0) from = befores[i];
      for (let seat = seatAt[here]; seat < seatAt[here + 1]; seat++) {
        const other = previous[seat] < 0 ? -1 : taskOf[previous[seat]];
        if (other >= 0 && heads[other] + minutes[other] === head && below(++ways) === 0) {
          from = other;
          by = seat;
        }
      }
      if (by >= 0) into.push(by);
      here = from;
    }
  }

  /**
   * A seat and the one before it change places, in every line in which their tasks stand beside each other.
   *
   * @returns false when none stands before it, or that would close a ring: nothing is changed then
   */
  turn(seat: number): boolean {
    const { previous, taskOf, seatAt, lineOf, place } = this;
    if (previous[seat] < 0) return false;
    const later = taskOf[seat];
    const earlier = taskOf[previous[seat]];
    const from = place[earlier];
    const to = place[later];
    const begun = this.turned.length;
    for (let mine = seatAt[later]; mine < seatAt[later + 1]; mine++)
      for (let its = seatAt[earlier]; its < seatAt[earlier + 1]; its++)
        if (lineOf[mine] === lineOf[its] && previous[mine] === its) {
          this.exchange(its, mine);
          this.turned.push(its, mine);
        }
    if (this.sortBehind(earlier, from, to)) {
      this.measure(from);
      return true;
    }
    this.turnBack(begun);
    return false;
  }

  timetable(): Timetable {
    return { starts: Float64Array.from(this.heads), modes: new Int32Array(this.count) };
  }

  /** What was turned since then changes places again, the last first. */
  private turnBack(begun: number): void {
    for (let k = this.turned.length - 2; k >= begun; k -= 2) this.exchange(this.turned[k + 1], this.turned[k]);
    this.turned.length = begun;
  }

  /** Two neighbouring seats change places. */
  private exchange(first: number, second: number): void {
    const { previous, next } = this;
    const leads = previous[first];
    const follows = next[second];
    if (leads >= 0) next[leads] = second;
    if (follows >= 0) previous[follows] = first;
    previous[second] = leads;
    next[second] = first;
    previous[first] = second;
    next[first] = follows;
  }

  /** A task went behind the one at the end of a stretch of the order: what waits for it follows it there. */
  private sortBehind(task: number, from: number, to: number): boolean {
    const { order, place, marked, aside, beforeAt, befores, seatAt, previous, taskOf } = this;
    marked[task] = 1;
    for (let k = from + 1; k <= to; k++) {
      const other = order[k];
      let waits = false;
      for (let i = beforeAt[other]; i < beforeAt[other + 1] && !waits; i++) waits = marked[befores[i]] === 1;
      for (let seat = seatAt[other]; seat < seatAt[other + 1] && !waits; seat++)
        waits = previous[seat] >= 0 && marked[taskOf[previous[seat]]] === 1;
      if (waits) marked[other] = 1;
    }
    const possible = marked[order[to]] === 0;
    let first = from;
    let kept = 0;
    for (let k = from; k <= to; k++) {
      const each = order[k];
      if (possible && marked[each] === 0) {
        place[each] = first;
        order[first++] = each;
      } else aside[kept++] = each;
      marked[each] = 0;
    }
    for (let k = 0; possible && k < kept; k++) {
      place[aside[k]] = first;
      order[first++] = aside[k];
    }
    return possible;
  }

  private measure(from: number): void {
    const { count, order, heads, minutes, release, beforeAt, befores, seatAt, previous, taskOf } = this;
    for (let k = from; k < count; k++) {
      const task = order[k];
      let head = release[task];
      for (let i = beforeAt[task]; i < beforeAt[task + 1]; i++) {
        const end = heads[befores[i]] + minutes[befores[i]];
        if (end > head) head = end;
      }
      for (let seat = seatAt[task]; seat < seatAt[task + 1]; seat++) {
        const beside = previous[seat];
        if (beside < 0) continue;
        const end = heads[taskOf[beside]] + minutes[taskOf[beside]];
        if (end > head) head = end;
      }
      heads[task] = head;
    }
  }
}
