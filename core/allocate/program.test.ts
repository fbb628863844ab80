import fc from "fast-check";
import loadHighs, { type Highs } from "highs";
import { atLeast } from "./confidence";
import { Linear, sumOf } from "./linear";
import { programOf } from "./program";
import { AIMS, type Question } from "./question";

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

/** One group that wants at least so many of devices with these chances, each ten minutes of hands. */
function oneGroup(chances: readonly number[], least: number, confidence: number) {
  const question: Question = {
    candidates: chances.map((chance, k) => ({
      device: `d${k}`,
      options: [{ group: "g", way: "w", build: "b", model: "m", chance, years: 1, hands: 10 }],
    })),
    groups: [{ id: "g", wanted: chances.length, least, by: "2026-12-01", weight: 1, spares: 0, alike: false }],
    pins: [],
    aims: AIMS,
    confidence,
    leeway: 0,
    bench: [],
  };
  return programOf(question, [], new Linear(highs));
}

describe("what is there with a confidence is about that on average", () => {
  test("whatever is enough is taken as enough", () => {
    const chances = fc.array(fc.integer({ min: 5, max: 100 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(
        chances,
        fc.integer({ min: 1, max: 10 }),
        fc.constantFrom(0.3, 0.5, 0.8, 0.95),
        (cents, least, sure) => {
          const likely = cents.map((cent) => cent / 100);
          fc.pre(atLeast(likely, least) >= sure);
          const { linear, columns, goals } = oneGroup(likely, least, sure);
          const fixed = new Map(columns.map(({ column, of }) => [column, of.devices.length]));
          expect(linear.largest(goals.least, 5, { fixed })?.value).toBeCloseTo(1);
        },
      ),
      { numRuns: 200 },
    );
  });

  test("without whole numbers, ten of nine in ten takes more than nine on average", () => {
    const chances = [0.99, 0.99, ...Array<number>(30).fill(0.6)];
    const { linear, goals } = oneGroup(chances, 10, 0.9);
    linear.atLeast(goals.least, 1);
    const minutes = -(linear.largest(goals.hands, 5, { relaxed: true })?.value ?? 0);
    // Nine on average: two of 0.99 and 11.7 of 0.6.
    expect(minutes).toBeGreaterThan(10 * (2 + (9 - 1.98) / 0.6) + 5);
    const takes = chances.findIndex((_, n) => atLeast(chances.slice(0, n), 10) >= 0.9);
    expect(minutes).toBeLessThanOrEqual(10 * takes);
  });
});

test("a device that may go to several groups by one build needs that build whole, also without whole numbers", () => {
  const ways = { way: "w", build: "b", model: "m", chance: 1, years: 1, hands: 1 };
  const asks = { wanted: 1, least: 1, by: "2026-12-01", weight: 1, spares: 0, alike: false };
  const question: Question = {
    candidates: [{ device: "d", options: ["g1", "g2"].map((group) => ({ ...ways, group })) }],
    groups: ["g1", "g2"].map((id) => ({ ...asks, id })),
    pins: [],
    aims: AIMS,
    confidence: 0.8,
    leeway: 0,
    bench: [],
  };
  const linear = new Linear(highs);
  const { columns, goals } = programOf(question, [], linear);
  linear.atLeast(
    columns.map(({ column }) => [column, 1]),
    1,
  );
  expect(linear.largest(goals.builds, 5, { relaxed: true })?.value).toBeCloseTo(-1);
});

test("a group takes no more than it wants: of a kind of forty devices its eight need that build whole, also without whole numbers", () => {
  const option = { way: "w", build: "b", model: "m", chance: 1, years: 1, hands: 1 };
  const asks = { least: 1, by: "2026-12-01", weight: 1, spares: 1, alike: false };
  const question: Question = {
    // Of two classes: what differs is how long they are useful.
    candidates: Array.from({ length: 40 }, (_, k) => ({
      device: `d${k}`,
      options: ["small", "large"].map((group) => ({ ...option, group, years: 1 + (k % 2) })),
    })),
    groups: [
      { ...asks, id: "small", wanted: 7 },
      { ...asks, id: "large", wanted: 60 },
    ],
    pins: [],
    aims: AIMS,
    confidence: 0.8,
    leeway: 0,
    bench: [],
  };
  const buildsFor = (counts: Readonly<Record<string, number>>) => {
    const linear = new Linear(highs);
    const { columns, goals } = programOf(question, [], linear);
    for (const [group, count] of Object.entries(counts))
      linear.atLeast(
        columns.filter((c) => c.option.group === group).map(({ column }) => [column, 1]),
        count,
      );
    const found = linear.largest(goals.builds, 5, { relaxed: true });
    return found && -sumOf(goals.builds, found.values);
  };
  expect(buildsFor({ small: 8 })).toBeCloseTo(1);
  expect(buildsFor({ small: 4 })).toBeCloseTo(0.5);
  // Who wants more than there are of a kind is not held to that.
  expect(buildsFor({ large: 20 })).toBeCloseTo(0.5);
});
