import type { Resource } from "./problem";

/**
 * How much of one resource is free over time: a staircase. Step k lasts from `at[k]` to `at[k + 1]`, the last one for
 * ever. Kept in flat arrays, because a timetable is built many thousand times.
 */
export class Profile {
  private at: Float64Array;
  private free: Float64Array;
  private length = 0;
  private readonly startAt: readonly number[];
  private readonly startFree: readonly number[];

  constructor({ capacity, open }: Resource) {
    const at: number[] = [];
    const free: number[] = [];
    const step = (time: number, amount: number) => {
      at.push(time);
      free.push(amount);
    };
    if (!open) step(0, capacity);
    else {
      if (open.length === 0 || open[0][0] > 0) step(0, 0);
      for (const [from, to] of open) {
        // Two evenings that touch are one: nothing is closed between them.
        if (at.length && at[at.length - 1] === from) {
          at.pop();
          free.pop();
        } else step(Math.max(0, from), capacity);
        step(to, 0);
      }
    }
    this.startAt = at;
    this.startFree = free;
    this.at = new Float64Array(Math.max(64, at.length * 2));
    this.free = new Float64Array(this.at.length);
    this.clear();
  }

  /** Nothing is held any more. */
  clear(): void {
    this.at.set(this.startAt);
    this.free.set(this.startFree);
    this.length = this.startAt.length;
  }

  /** The earliest time, not before `from`, at which `amount` is free for `minutes` on end; Infinity when never. */
  fit(from: number, minutes: number, amount: number): number {
    if (minutes === 0 || amount === 0) return from;
    const { at, free, length } = this;
    let k = this.stepAt(from);
    let start = from;
    for (;;) {
      while (k < length && free[k] < amount) k++;
      if (k === length) return Number.POSITIVE_INFINITY;
      if (at[k] > start) start = at[k];
      const end = start + minutes;
      let last = k + 1;
      while (last < length && at[last] < end && free[last] >= amount) last++;
      if (last === length || at[last] >= end) return start;
      k = last;
    }
  }

  /** Holds `amount` from `start` for `minutes`. */
  take(start: number, minutes: number, amount: number): void {
    if (minutes === 0 || amount === 0) return;
    const end = start + minutes;
    const first = this.cut(start);
    const last = this.cut(end);
    const { free } = this;
    for (let k = first; k < last; k++) free[k] -= amount;
    // Steps of the same height are one step: a profile stays as short as what it tells.
    this.join(last);
    this.join(first);
  }

  /** The step in which a time lies. */
  private stepAt(time: number): number {
    const { at } = this;
    let low = 0;
    let high = this.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (at[middle] <= time) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** Makes a step begin at a time; its place. */
  private cut(time: number): number {
    const k = this.stepAt(time);
    if (this.at[k] === time) return k;
    if (this.length === this.at.length) this.grow();
    const { at, free, length } = this;
    at.copyWithin(k + 2, k + 1, length);
    free.copyWithin(k + 2, k + 1, length);
    at[k + 1] = time;
    free[k + 1] = free[k];
    this.length++;
    return k + 1;
  }

  private join(k: number): void {
    const { at, free, length } = this;
    if (k <= 0 || k >= length || free[k] !== free[k - 1]) return;
    at.copyWithin(k, k + 1, length);
    free.copyWithin(k, k + 1, length);
    this.length--;
  }

  private grow(): void {
    const at = new Float64Array(this.at.length * 2);
    const free = new Float64Array(at.length);
    at.set(this.at);
    free.set(this.free);
    this.at = at;
    this.free = free;
  }
}
