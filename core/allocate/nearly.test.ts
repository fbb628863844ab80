import loadHighs, { type Highs } from "highs";
import { Chance } from "~/core/schedule/chance";
import { greedy } from "./greedy";
import { Linear } from "./linear";
import { nearlyInCore, nearlyLargest, nearWhatStands } from "./nearly";
import { columnsOf, placedBy, programOf } from "./program";
import { AIMS, type Placed, type Question } from "./question";
import { type Reach, relax } from "./relaxed";
import { scoresOf } from "./verdict";

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

/** Forty devices and four groups with many different ways, and a bench that does not suffice for all of them. */
function crowded(): Question {
  const chance = new Chance(11);
  const groups = ["a", "b", "c", "d"].map((id) => ({
    id,
    wanted: 9,
    least: 3,
    by: "2026-12-14",
    weight: 1 + chance.below(3),
    spares: 0,
    alike: false,
  }));
  const candidates = Array.from({ length: 40 }, (_, k) => ({
    device: `d${k}`,
    options: groups.map(({ id }) => ({
      group: id,
      way: "w",
      build: `b${chance.below(6)}`,
      model: "m",
      chance: 0.9,
      years: 1 + chance.below(40) / 10,
      hands: 10 + chance.below(30),
    })),
  }));
  const bench = [{ day: "2026-12-14", of: "hands" as const, minutes: 500 }];
  return { candidates, groups, pins: [], aims: AIMS, confidence: 0.8, leeway: 0, bench };
}

/** The question as it stands when useful years are looked at, with minutes by hand not to rise above what the beginning took. */
function looking() {
  const question = crowded();
  const start = greedy(question);
  const linear = new Linear(highs);
  const program = programOf(question, [], linear);
  const least = scoresOf(question, start).hands;
  linear.floor(program.goals.hands, least);
  const reach: Reach = {
    question,
    program,
    aim: "years",
    start,
    held: ["hands"],
    seconds: () => 5,
    take: (placed) => placed,
    lacks: (placed) => [Math.max(0, least - scoresOf(question, placed).hands)],
    margins: [0],
    mend: (placed) => placed,
  };
  const scores = (values: ArrayLike<number>) => scoresOf(question, placedBy(program.columns, values));
  return { question, program, start, reach, least, scores, turn: { seconds: 5, besides: () => [] } };
}

const yearsOf = (question: Question, placed: readonly Placed[]) => scoresOf(question, placed).years;

test.each([
  ["around what came out whole", nearlyLargest],
  ["near what stands", nearWhatStands(0)],
])("%s nothing falls below its floor, and it is better than the beginning", (_, look) => {
  const { question, start, reach, least, scores, turn } = looking();
  const found = look(reach, turn, start);
  if (!found?.values) throw new Error("nothing was found");
  const { years, hands } = scores(found.values);
  expect(hands).toBeGreaterThanOrEqual(least - 1e-6);
  expect(years).toBeGreaterThan(yearsOf(question, start));
  expect(years).toBeLessThanOrEqual(found.bound + 1e-6);
});

test("in the core a floor has a price: what would cost more years than that is not kept", () => {
  const { reach, least, scores, turn, program } = looking();
  const found = nearlyInCore(reach, turn);
  if (!found?.values) throw new Error("nothing was found");
  const kept = scores(found.values);
  // Many times what the floor is worth: it is kept here, but for less than the smallest piece of work.
  expect(kept.hands).toBeGreaterThan(least - 10);
  const best = program.linear.largest(program.goals.years, 5)?.value as number;
  expect(kept.years).toBeGreaterThan(0.95 * best);
});

test("what stands is where it begins", () => {
  const { start, reach, turn, program } = looking();
  const asked = jest.spyOn(program.linear, "largest");
  nearWhatStands(0)(reach, turn, start);
  expect(asked.mock.calls.map(([, , more]) => more?.start)).toEqual([undefined, columnsOf(program.columns, start)]);
});

test("with room every floor is kept clear of by a part of a device: what comes out without whole numbers is worth less", () => {
  const { reach, turn, program, least } = looking();
  const handsOf = (room: number) => {
    const relaxed = relax(reach, turn, room);
    return program.columns.reduce(
      (sum, { column, option }) => sum - option.hands * (relaxed?.value(column) as number),
      0,
    );
  };
  const { candidates } = reach.question;
  const all = candidates.flatMap(({ options }) => options.map(({ hands }) => hands));
  const mean = all.reduce((sum, hands) => sum + hands, 0) / all.length;
  expect(handsOf(0)).toBeCloseTo(least, 4);
  expect(handsOf(0.5)).toBeCloseTo(least + mean / 2, 4);
});
