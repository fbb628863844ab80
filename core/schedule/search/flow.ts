import type { Timetable } from "../build";
import type { Chance } from "../chance";
import { costOf } from "../cost";
import type { Problem } from "../problem";

/** Jobs that are taken out at once, and how readily what is worse is gone on with: as published. */
const TAKEN_OUT = 2;
const WARMTH = 0.7;
/** Rounds without a shorter timetable after which another search gains more. */
const PATIENCE = 1000;

/** Jobs that pass the same machines, all of them in the same order: per job its tasks in that order. */
export type FlowShop = readonly (readonly number[])[];

/** The flow shop that a shop is; null where its jobs go different ways, or one has nobody to change places with. */
export function flowShopOf({ count, before, after }: Problem, machines: Int32Array): FlowShop | null {
  const jobs: number[][] = [];
  for (let task = 0; task < count; task++) {
    if (before[task].length > 1 || after[task].length > 1) return null;
    if (before[task].length > 0) continue;
    const job = [task];
    for (let [next] = after[task]; next !== undefined; [next] = after[next]) job.push(next);
    jobs.push(job);
  }
  const way = (job: readonly number[]) => job.map((task) => machines[task]);
  const first = way(jobs[0]);
  if (first.includes(-1) || new Set(first).size < first.length) return null;
  return jobs.length > 1 && jobs.every((job) => String(way(job)) === String(first)) ? jobs : null;
}

/**
 * Searches flow shops among the timetables in which every machine serves the jobs in the same order: some are taken out and
 * put back where they cost least, again and again. Yields each better timetable, and null where its caller may stop it.
 *
 * @returns the best there was, once nothing better came for long: with an order of its own on each machine it may be shorter
 * still, which is for the search of job shops
 * @source Nawaz, Enscore and Ham (1983), first order; Taillard (1990), all places of a job at once; Ruiz and Stützle (2007),
 * iterated greedy; Dubois-Lacoste, Pagnozzi and Stützle (2017), bettering what is left, with their numbers
 */
export function* searchFlow(
  problem: Problem,
  jobs: FlowShop,
  start: Timetable,
  chance: Chance,
): Generator<Timetable | null, Timetable> {
  const line = new Line(problem, jobs, chance);
  const mean = line.work.reduce((sum, work) => sum + work, 0) / problem.count;
  const warmth = (WARMTH * mean) / 10;
  let here: Order = [];
  for (const job of jobs.map((_, k) => k).sort((a, b) => line.work[b] - line.work[a])) {
    line.insert(here, job);
    yield null;
  }
  let length = yield* bettered(line, here, chance);
  let best = { timetable: start, length: costOf(problem, start).makespan };
  for (let idle = 0; idle < PATIENCE; idle++) {
    if (length < best.length) {
      best = { timetable: line.timetable(here), length };
      yield best.timetable;
      idle = 0;
    }
    const next = [...here];
    const out = Array.from({ length: TAKEN_OUT }, () => takeOut(next, chance));
    yield* bettered(line, next, chance);
    for (const job of out) line.insert(next, job);
    const after = yield* bettered(line, next, chance);
    if (after > length && chance.next() >= Math.exp((length - after) / warmth)) continue;
    here = next;
    length = after;
  }
  return best.timetable;
}

type Order = number[];

const takeOut = (order: Order, chance: Chance): number => order.splice(chance.below(order.length), 1)[0];

/** Every job is put where it costs least, by chance where places are equal, until none gains anything. @returns the length */
function* bettered(line: Line, order: Order, chance: Chance): Generator<null, number> {
  let length = line.lengthOf(order);
  for (let gained = true; gained; ) {
    gained = false;
    for (const job of shuffled(order, chance)) {
      const from = order.indexOf(job);
      order.splice(from, 1);
      const { place, length: after } = line.bestPlace(order, job);
      if (after <= length) {
        order.splice(place, 0, job);
        gained ||= after < length;
        length = after;
      } else order.splice(from, 0, job);
      yield null;
    }
  }
  return length;
}

function shuffled(order: Order, chance: Chance): Order {
  const mixed = [...order];
  for (let k = mixed.length - 1; k > 0; k--) {
    const other = chance.below(k + 1);
    [mixed[k], mixed[other]] = [mixed[other], mixed[k]];
  }
  return mixed;
}

/** Machines one behind the other, through which jobs go in one order. */
class Line {
  /** Minutes of each job on all machines. */
  readonly work: readonly number[];
  private readonly machines: number;
  /** By job and machine. */
  private readonly minutes: Float64Array;
  /** By place in the order and machine: when that job leaves it, and the longest way from its beginning to the end. */
  private readonly heads: Float64Array;
  private readonly tails: Float64Array;

  constructor(
    { minutes, count }: Problem,
    private readonly jobs: FlowShop,
    private readonly chance: Chance,
  ) {
    this.machines = jobs[0].length;
    this.minutes = Float64Array.from(jobs.flatMap((job) => job.map((task) => minutes[task])));
    this.work = jobs.map((job) => job.reduce((sum, task) => sum + minutes[task], 0));
    this.heads = new Float64Array(count + this.machines);
    this.tails = new Float64Array(count + this.machines);
  }

  lengthOf(order: Order): number {
    this.measureHeads(order);
    return order.length ? this.heads[order.length * this.machines + this.machines - 1] : 0;
  }

  insert(order: Order, job: number): void {
    order.splice(this.bestPlace(order, job).place, 0, job);
  }

  /** Where a job that is not in the order costs least, and how long all is then. */
  bestPlace(order: Order, job: number): { readonly place: number; readonly length: number } {
    const { machines, minutes, heads, tails } = this;
    this.measureHeads(order);
    this.measureTails(order);
    let place = 0;
    let ties = 0;
    let length = Number.POSITIVE_INFINITY;
    for (let k = 0; k <= order.length; k++) {
      let end = 0;
      let longest = 0;
      for (let m = 0; m < machines && longest <= length; m++) {
        end = Math.max(end, heads[k * machines + m]) + minutes[job * machines + m];
        longest = Math.max(longest, end + tails[k * machines + m]);
      }
      if (longest < length) {
        ties = 1;
        length = longest;
        place = k;
      } else if (longest === length && this.chance.below(++ties) === 0) place = k;
    }
    return { place, length };
  }

  timetable(order: Order): Timetable {
    this.measureHeads(order);
    const starts = new Float64Array(this.jobs.length * this.machines);
    for (const [k, job] of order.entries())
      for (const [m, task] of this.jobs[job].entries())
        starts[task] = this.heads[(k + 1) * this.machines + m] - this.minutes[job * this.machines + m];
    return { starts, modes: new Int32Array(starts.length) };
  }

  /** Row k + 1 is the job at place k; row 0 is nobody. */
  private measureHeads(order: Order): void {
    const { machines, minutes, heads } = this;
    for (let k = 0; k < order.length; k++) {
      const row = (k + 1) * machines;
      let end = 0;
      for (let m = 0; m < machines; m++) {
        end = Math.max(end, heads[row - machines + m]) + minutes[order[k] * machines + m];
        heads[row + m] = end;
      }
    }
  }

  /** Row k is the job at place k; the last row is nobody. */
  private measureTails(order: Order): void {
    const { machines, minutes, tails } = this;
    tails.fill(0, order.length * machines, (order.length + 1) * machines);
    for (let k = order.length - 1; k >= 0; k--) {
      const row = k * machines;
      let rest = 0;
      for (let m = machines - 1; m >= 0; m--) {
        rest = Math.max(rest, tails[row + machines + m]) + minutes[order[k] * machines + m];
        tails[row + m] = rest;
      }
    }
  }
}
