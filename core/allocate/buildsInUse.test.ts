import loadHighs, { type Highs } from "highs";
import { amongBuildsInUse } from "./buildsInUse";
import { Linear } from "./linear";
import { placedBy, programOf } from "./program";
import { AIMS, type Placed, type Question } from "./question";
import { boundOf, type Reach } from "./relaxed";
import { scoresOf } from "./verdict";

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

type Ways = (k: number) => readonly (readonly [build: string, hands: number])[];

/** A build of its own for each of six groups, one that every second shares, or one that every third does. */
const SIX: Ways = (k) => [
  [`own ${k}`, 30],
  [`half ${k % 2}`, 20],
  [`third ${k % 3}`, 10],
];
/** Five groups in a ring, a quick build for every two that are neighbours, and a slow one for all. */
const RING: Ways = (k) => [
  ["all", 30],
  [`${k}`, 10],
  [`${(k + 1) % 5}`, 10],
];

/** One device for each group, by these builds; all that stands is the same one of its ways. */
function sharing(
  count: number,
  ways: Ways,
  { aim, way, most }: { readonly aim: "builds" | "hands"; readonly way: number; readonly most?: number },
) {
  const ids = Array.from({ length: count }, (_, k) => `g${k}`);
  const question: Question = {
    groups: ids.map((id) => ({ id, wanted: 1, least: 1, by: "2026-12-14", weight: 1, spares: 0, alike: false })),
    candidates: ids.map((group, k) => ({
      device: `d${k}`,
      options: ways(k).map(([build, hands], n) => ({
        group,
        way: `w${n}`,
        build,
        model: "m",
        chance: 0.95,
        years: 2,
        hands,
      })),
    })),
    pins: [],
    aims: AIMS,
    confidence: 0.8,
    leeway: 0,
    bench: [],
  };
  const program = programOf(question, [], new Linear(highs));
  program.linear.atLeast(program.goals.least, count);
  const stands = question.candidates.map(({ device, options }) => ({ device, option: options[way] }));
  if (aim === "hands") program.linear.floor(program.goals.builds, -(most ?? -scoresOf(question, stands).builds));
  const same = (placed: readonly Placed[]) => placed;
  const reach: Reach = {
    question,
    program,
    aim,
    start: stands,
    held: aim === "hands" ? ["builds"] : [],
    seconds: () => 5,
    lacks: () => [0],
    margins: [0],
    take: same,
    mend: same,
  };
  const found = amongBuildsInUse(reach, { seconds: 5, besides: () => [] }, stands);
  if (!found?.values) throw new Error("nothing was found");
  const placed = placedBy(program.columns, found.values);
  const builds = new Set(placed.map(({ option }) => option.build));
  return { question, reach, stands, found, placed, builds, scores: scoresOf(question, placed) };
}

test("from a build for each group it comes to the two that all of them share, and proves that one is not enough", () => {
  const { scores, reach, placed } = sharing(6, SIX, { aim: "builds", way: 0 });
  expect(scores.builds).toBe(-2);
  expect(scores.least).toBe(6);
  expect(boundOf(reach, { seconds: reach.seconds, start: placed })).toBe(-2);
});

test.each([0, 1, 2])("from the way %i on nothing is worse than what stands", (way) => {
  const { question, scores, stands } = sharing(6, SIX, { aim: "hands", way });
  expect(scores.hands).toBeGreaterThanOrEqual(scoresOf(question, stands).hands);
  expect(scores.builds).toBeGreaterThanOrEqual(scoresOf(question, stands).builds);
});

test("where parts of builds would do without whole numbers, what is proven still counts whole ones", () => {
  const { reach, placed, scores } = sharing(5, RING, { aim: "hands", way: 0, most: 2 });
  // The slow one for three of them, a quick one for two.
  expect(scores.hands).toBe(-110);
  const { linear, goals } = reach.program;
  // Two thirds of each of them by parts of five quick builds that are five thirds together, and a third of the slow one.
  expect(linear.largest(goals.hands, 5, { relaxed: true })?.value).toBeCloseTo(-250 / 3);
  expect(boundOf(reach, { seconds: reach.seconds, start: placed })).toBeCloseTo(-110);
});
