import type { Resource } from "./problem";

/** What some resources can bear together over time, added up once, so that each question is a look into a table. */
export class Capacity {
  /** Where what they can bear changes; from the k-th of these on it is `height[k]`, and `area[k]` was borne before. */
  private readonly times: number[] = [];
  private readonly height: number[] = [];
  private readonly area: number[] = [];
  /** All of them at all times; null where one of them has hours. */
  private readonly always: number | null;

  constructor(resources: readonly Resource[]) {
    this.always = resources.every(({ open }) => !open) ? resources.reduce((sum, each) => sum + each.capacity, 0) : null;
    if (this.always !== null) return;
    const changes: [number, number][] = [];
    for (const { open, capacity } of resources)
      for (const [opens, closes] of open ?? [[0, Number.POSITIVE_INFINITY] as const])
        changes.push([opens, capacity], [closes, -capacity]);
    changes.sort((a, b) => a[0] - b[0]);
    let height = 0;
    let area = 0;
    for (const [time, change] of changes) {
      const last = this.times.length - 1;
      if (last >= 0 && this.times[last] === time) {
        height += change;
        this.height[last] = height;
        continue;
      }
      if (height > 0) area += height * (time - this.times[last]);
      height += change;
      this.times.push(time);
      this.height.push(height);
      this.area.push(area);
    }
  }

  /**
   * When so much has been borne by all of these together, from a time on.
   *
   * @returns 0, which bounds nothing, where they close for good before
   * @example new Capacity([{ capacity: 2, open: null }]).whenBorne(10, 7) // 14
   */
  whenBorne(from: number, energy: number): number {
    if (this.always !== null) return this.always === 0 ? 0 : from + Math.ceil(energy / this.always - 1e-9);
    const { times, height, area } = this;
    const asked = lastWhere(times, -1, (time) => time <= from);
    const target = (asked < 0 ? 0 : area[asked] + height[asked] * (from - times[asked])) + energy;
    // The last step that begins before so much is borne; one that is closed bears nothing.
    let k = lastWhere(area, Math.max(asked, 0), (before) => before < target);
    while (k < times.length && (height[k] === 0 || times[k + 1] <= from)) k++;
    if (k >= times.length) return 0;
    const start = Math.max(from, times[k]);
    const left = target - area[k] - height[k] * (start - times[k]);
    return start + Math.ceil(left / height[k] - 1e-9);
  }
}

/** The last place, from one on, up to which all of an ascending list are so; that one itself where none behind it is. */
function lastWhere(list: readonly number[], from: number, isSo: (value: number) => boolean): number {
  let low = from;
  let high = list.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (isSo(list[middle])) low = middle;
    else high = middle - 1;
  }
  return low;
}
