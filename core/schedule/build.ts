import type { Problem } from "./problem";
import { Profile } from "./profile";

/** A timetable by places: when each task starts (Infinity: no room for it was found) and in which of its modes. */
export type Timetable = { readonly starts: Float64Array; readonly modes: Int32Array };

/**
 * Builds timetables from priorities (serial schedule generation): among the tasks whose forerunners are placed, the one
 * with the smallest key is next, and it starts as early as everything it holds allows.
 *
 * @source Kolisch (1996), serial and parallel resource-constrained project scheduling methods revisited
 */
export class Builder {
  private readonly profiles: readonly Profile[];
  private readonly waits: Int32Array;
  private readonly heap: Int32Array;
  private size = 0;
  /** Minutes that each resource is held so far: of two equally early modes, the less loaded one is taken. */
  private readonly load: Float64Array;
  /** When each resource by itself could first hold the task that is being placed: modes share their resources. */
  private readonly first: Float64Array;
  private readonly firstOf: Float64Array;

  constructor(readonly problem: Problem) {
    this.profiles = problem.resources.map((resource) => new Profile(resource));
    this.waits = new Int32Array(problem.count);
    this.heap = new Int32Array(problem.count + 1);
    this.load = new Float64Array(problem.resources.length);
    this.first = new Float64Array(problem.resources.length);
    this.firstOf = new Float64Array(problem.resources.length);
  }

  /** @param keys one per task, smaller is earlier */
  build(keys: Float64Array): Timetable {
    const { count, before, after, begun, minutes } = this.problem;
    const starts = new Float64Array(count);
    const modes = new Int32Array(count);
    for (const profile of this.profiles) profile.clear();
    this.load.fill(0);
    this.size = 0;
    for (let task = 0; task < count; task++) {
      this.waits[task] = before[task].length;
      const stands = begun[task];
      if (stands) this.place(task, stands.start, stands.mode, starts, modes);
    }
    for (let task = 0; task < count; task++) if (this.waits[task] === 0) this.push(task, keys);
    for (let task = this.pop(keys); task >= 0; task = this.pop(keys)) {
      if (!begun[task]) {
        let ready = this.problem.release[task];
        for (const earlier of before[task]) {
          const end = starts[earlier] + minutes[earlier];
          if (end > ready) ready = end;
        }
        this.placeEarly(task, ready, starts, modes);
      }
      for (const next of after[task]) if (--this.waits[next] === 0) this.push(next, keys);
    }
    return { starts, modes };
  }

  private placeEarly(task: number, ready: number, starts: Float64Array, modes: Int32Array): void {
    const { modes: every, fixed } = this.problem;
    const choices = every[task];
    let best = Number.POSITIVE_INFINITY;
    let chosen = 0;
    this.firstOf.fill(-1);
    for (let m = 0; m < choices.length; m++) {
      if (fixed[task] >= 0 && m !== fixed[task]) continue;
      const start = this.earliest(task, m, ready, best);
      if (start < best || (start === best && best < Number.POSITIVE_INFINITY && this.lighter(task, m, chosen))) {
        best = start;
        chosen = m;
      }
    }
    const kept = fixed[task] < 0 ? this.keptMode(task, starts, modes) : -1;
    if (kept >= 0 && kept !== chosen) {
      const start = this.earliest(task, kept, ready, best + this.patienceWith(task, kept, best));
      if (start < Number.POSITIVE_INFINITY) {
        best = start;
        chosen = kept;
      }
    }
    if (best === Number.POSITIVE_INFINITY) starts[task] = best;
    else this.place(task, best, chosen, starts, modes);
  }

  /**
   * The mode that is kept where it can be: that of whom people were told, as long as the piece before is still theirs; else that
   * of the hands that have it.
   */
  private keptMode(task: number, starts: Float64Array, modes: Int32Array): number {
    const { like, told } = this.problem;
    const was = told?.modes[task] ?? -1;
    const before = like[task];
    if (before < 0 || starts[before] === Number.POSITIVE_INFINITY) return was;
    return was >= 0 && modes[before] === told?.modes[before] ? was : modes[before];
  }

  /** How much later than at best a task may begin so that its mode is kept: those who were told when wait until then anyway. */
  private patienceWith(task: number, kept: number, best: number): number {
    const { like, patience, told } = this.problem;
    const least = like[task] >= 0 ? patience : (told?.patience ?? 0);
    return told && kept === told.modes[task]
      ? Math.max(least, Math.min(told.patience, told.starts[task] - best))
      : least;
  }

  private lighter(task: number, one: number, other: number): boolean {
    const choices = this.problem.modes[task];
    const first = choices[one].resources[0];
    const second = choices[other].resources[0];
    return first !== second && this.load[first] < this.load[second];
  }

  /** Earliest start of a task in a mode; Infinity as soon as it is known to be later than `enough`. */
  private earliest(task: number, mode: number, ready: number, enough: number): number {
    const { resources, amounts } = this.problem.modes[task][mode];
    const minutes = this.problem.minutes[task];
    let start = ready;
    for (let k = 0; k < resources.length; k++) {
      const first = this.firstFit(resources[k], ready, minutes, amounts[k]);
      if (first > start) start = first;
    }
    // Alone each of them is free at the time it was asked for.
    if (start > enough || start === ready || start === Number.POSITIVE_INFINITY)
      return start > enough ? Number.POSITIVE_INFINITY : start;
    for (let held = 0, k = 0; held < resources.length; k = (k + 1) % resources.length) {
      const next = this.profiles[resources[k]].fit(start, minutes, amounts[k]);
      if (next > enough) return Number.POSITIVE_INFINITY;
      held = next > start ? 1 : held + 1;
      start = next;
    }
    return start;
  }

  private firstFit(resource: number, ready: number, minutes: number, amount: number): number {
    if (this.firstOf[resource] !== amount) {
      this.firstOf[resource] = amount;
      this.first[resource] = this.profiles[resource].fit(ready, minutes, amount);
    }
    return this.first[resource];
  }

  private place(task: number, start: number, mode: number, starts: Float64Array, modes: Int32Array): void {
    const { resources, amounts } = this.problem.modes[task][mode];
    const minutes = this.problem.minutes[task];
    for (let k = 0; k < resources.length; k++) {
      this.profiles[resources[k]].take(start, minutes, amounts[k]);
      this.load[resources[k]] += minutes;
    }
    starts[task] = start;
    modes[task] = mode;
  }

  private push(task: number, keys: Float64Array): void {
    const { heap } = this;
    let k = ++this.size;
    while (k > 1 && less(keys, task, heap[k >> 1])) {
      heap[k] = heap[k >> 1];
      k >>= 1;
    }
    heap[k] = task;
  }

  private pop(keys: Float64Array): number {
    if (this.size === 0) return -1;
    const { heap } = this;
    const top = heap[1];
    const last = heap[this.size--];
    let k = 1;
    for (let child = 2; child <= this.size; child = 2 * k) {
      if (child < this.size && less(keys, heap[child + 1], heap[child])) child++;
      if (!less(keys, heap[child], last)) break;
      heap[k] = heap[child];
      k = child;
    }
    heap[k] = last;
    return top;
  }
}

const less = (keys: Float64Array, one: number, other: number) =>
  keys[one] < keys[other] || (keys[one] === keys[other] && one < other);
