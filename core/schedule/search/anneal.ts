import type { Timetable } from "../build";
import type { Chance } from "../chance";
import { type Cost, compareCosts, costOf } from "../cost";
import type { Problem } from "../problem";
import { Lines } from "./lines";

/** Moves of the first cooling, and of the longest; each is twice as long as the one before it. */
const FIRST_COOLING = 25_000;
const LONGEST_COOLING = 400_000;
/** Warmth at the beginning of a cooling and at its end, in mean minutes times mean weight (measured on job shops). */
const HOT = 4;
const COLD = 1;
/** How often a task goes further ahead than by one place, and how far at most. */
const FURTHER = 0.15;
const FURTHEST = 3;
/** Moves between two looks at the clock. */
const BREATH = 100;

/**
 * Searches for the fewest late minutes where all that is held serves one at a time: a task on a longest path to one
 * that is late goes further ahead in its line. Every order is measured exactly, and a worse one is taken the less
 * often the colder it is.
 * Yields each better timetable as it is found, and null where its caller may stop it.
 *
 * @source van Laarhoven, Aarts and Lenstra (1992), job shop scheduling by simulated annealing
 * @source Mati, Dauzère-Pérès and Lahlou (2011), a general approach for regular criteria in the job shop
 */
export function* searchLines(problem: Problem, start: Timetable, chance: Chance): Generator<Timetable | null> {
  const lines = new Lines(problem, start);
  const late = new Late(problem, lines);
  const below = (count: number) => chance.below(count);
  const seats: number[] = [];
  let best: Cost = costOf(problem, start);
  let bestTimetable = start;
  let round = 0;
  for (let cooling = FIRST_COOLING; ; cooling = Math.min(2 * cooling, LONGEST_COOLING)) {
    let here = late.measure();
    for (let step = 0; step < cooling; step++) {
      if (++round % BREATH === 0) yield null;
      if (late.tasks.length === 0) return;
      lines.tightSeats(late.tasks[chance.below(late.tasks.length)], below, seats);
      if (seats.length === 0) continue;
      const places = chance.next() < FURTHER ? 1 + chance.below(FURTHEST) : 1;
      if (!goAhead(lines, seats[chance.below(seats.length)], places)) continue;
      const there = late.measure();
      const warmth = late.unit * HOT * (COLD / HOT) ** (step / cooling);
      if (there > here && chance.next() >= Math.exp((here - there) / warmth)) {
        lines.undo();
        late.measure();
        continue;
      }
      lines.keep();
      here = there;
      if (there > best.aim) continue;
      const found = lines.timetable();
      const cost = costOf(problem, found);
      if (compareCosts(cost, best) >= 0) continue;
      best = cost;
      bestTimetable = found;
      yield found;
    }
    lines.orderBy(bestTimetable);
  }
}

/** A seat goes ahead by so many places, or as far as it can; false when it stays. */
function goAhead(lines: Lines, seat: number, places: number): boolean {
  let gone = 0;
  while (gone < places && lines.turn(seat)) gone++;
  return gone > 0;
}

/** What is late in the order that stands. */
class Late {
  readonly tasks: number[] = [];
  /** What a task's minutes weigh in the mean. */
  readonly unit: number;
  private readonly dated: readonly number[];

  constructor(
    private readonly problem: Problem,
    private readonly lines: Lines,
  ) {
    const { count, due, weight, minutes } = problem;
    this.dated = [...due.keys()].filter((task) => due[task] < Number.POSITIVE_INFINITY && weight[task] > 0);
    const weights = this.dated.reduce((sum, task) => sum + weight[task], 0);
    this.unit = (minutes.reduce((sum, each) => sum + each, 0) / count) * (weights / Math.max(1, this.dated.length));
  }

  /** @returns the weighted late minutes */
  measure(): number {
    const { due, weight, minutes } = this.problem;
    const { heads } = this.lines;
    this.tasks.length = 0;
    let sum = 0;
    for (const task of this.dated) {
      const end = heads[task] + minutes[task];
      if (end <= due[task]) continue;
      sum += weight[task] * (end - due[task]);
      this.tasks.push(task);
    }
    return sum;
  }
}
