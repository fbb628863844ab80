import fc from "fast-check";
import { jobShop } from "~/testing/jobShop";
import { FT10_DUE } from "~/testing/jobShops";
import { Chance } from "../chance";
import { costOf } from "../cost";
import { makeProblem, problemOf } from "../problem";
import { searchLines } from "./anneal";
import { Lines } from "./lines";
import { dueInLine } from "./machines";
import { byRules } from "./rules";

/** Tasks that stand in up to three lines at once, some behind others. */
const problems = fc
  .array(
    fc.record({
      minutes: fc.integer({ min: 0, max: 9 }),
      lines: fc.uniqueArray(fc.integer({ min: 0, max: 3 }), { maxLength: 3 }),
      back: fc.integer({ min: 0, max: 4 }),
      release: fc.integer({ min: 0, max: 5 }),
    }),
    { minLength: 2, maxLength: 12 },
  )
  .map((tasks) =>
    makeProblem({
      aim: "tardiness",
      resources: Array.from({ length: 4 }, () => ({ capacity: 1, open: null })),
      tasks: tasks.map(({ minutes, lines, back, release }, k) => ({
        minutes,
        release,
        due: 3 * k,
        before: back > 0 && k >= back ? [k - back] : [],
        modes: [{ resources: lines, amounts: lines.map(() => 1) }],
      })),
    }),
  );

/** Whether nothing that is held at one time by two tasks is one line, and chains and releases are kept. */
function stands({ count, minutes, before, release, modes }: ReturnType<typeof makeProblem>, heads: Float64Array) {
  for (let a = 0; a < count; a++) {
    if (heads[a] < release[a] || before[a].some((b) => heads[b] + minutes[b] > heads[a])) return false;
    for (let b = 0; b < a; b++)
      if (modes[a][0].resources.some((line) => modes[b][0].resources.includes(line)))
        if (Math.min(heads[a] + minutes[a], heads[b] + minutes[b]) > Math.max(heads[a], heads[b])) return false;
  }
  return true;
}

test("however neighbours are turned, what is measured step by step is what is measured anew, and undone it is as it was", () => {
  fc.assert(
    fc.property(problems, fc.integer(), (problem, seed) => {
      const chance = new Chance(seed);
      const lines = new Lines(problem, byRules(problem));
      const seats: number[] = [];
      for (let k = 0; k < 30; k++) {
        const before = lines.timetable();
        lines.tightSeats(chance.below(problem.count), (n) => chance.below(n), seats);
        if (seats.length === 0) continue;
        const turned = lines.turn(seats[chance.below(seats.length)]);
        expect(stands(problem, lines.heads)).toBe(true);
        if (chance.below(2) === 0) {
          lines.undo();
          expect(lines.timetable()).toEqual(before);
        } else {
          const now = lines.timetable();
          if (!turned) expect(now).toEqual(before);
          lines.keep();
          lines.undo();
          expect(lines.timetable()).toEqual(now);
          // Built from the starts alone there is nothing left over from before.
          const anew = new Lines(problem, now).timetable().starts;
          for (let task = 0; task < problem.count; task++) expect(anew[task]).toBeLessThanOrEqual(now.starts[task]);
        }
      }
    }),
    { numRuns: 60 },
  );
});

test("what would close a ring is not turned", () => {
  // a holds the line, x waits for a, b waits for x and stands in the same line.
  const { problem } = problemOf({
    aim: "tardiness",
    resources: [{ id: "m", capacity: 1 }],
    tasks: [
      { id: "a", minutes: 2, uses: [{ resource: "m", amount: 1 }], after: [] },
      { id: "x", minutes: 0, uses: [], after: ["a"] },
      { id: "b", minutes: 2, uses: [{ resource: "m", amount: 1 }], after: ["x"], due: 1 },
    ],
  });
  const lines = new Lines(problem, byRules(problem));
  const before = lines.timetable();
  expect(lines.turn(1)).toBe(false);
  expect(lines.timetable()).toEqual(before);
});

test("late minutes of published job shops come down to what is published", () => {
  const { problem } = problemOf(FT10_DUE.instance);
  const start = byRules(problem);
  let found = costOf(problem, start).aim;
  expect(found).toBeGreaterThan(2 * FT10_DUE.best);
  const search = searchLines(problem, start, new Chance(7));
  for (let k = 0; k < 1_500 && found > FT10_DUE.best; k++) {
    const step = search.next();
    if (!step.done && step.value) found = costOf(problem, step.value).aim;
  }
  expect(found).toBe(FT10_DUE.best);
});

test("is for what is due behind chains, one at a time", () => {
  const due = (text: string, change: (instance: ReturnType<typeof jobShop>) => void = () => {}) => {
    const instance = jobShop(text);
    instance.aim = "tardiness";
    change(instance);
    return dueInLine(problemOf(instance).problem);
  };
  expect(due("0 3 1 2\n1 4 0 1")).toBe(true);
  expect(due("0 3\n0 4")).toBe(false);
  expect(
    due("0 3 1 2\n1 4 0 1", (instance) => {
      instance.resources[0].capacity = 2;
    }),
  ).toBe(false);
});
