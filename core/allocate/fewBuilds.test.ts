import loadHighs, { type Highs } from "highs";
import { Chance } from "~/core/schedule/chance";
import { fewBuilds } from "./fewBuilds";
import { Linear } from "./linear";
import { placedBy, programOf } from "./program";
import { AIMS, type BenchTime, type Candidate, type Question } from "./question";
import type { Reach } from "./relaxed";
import { scoresOf } from "./verdict";

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

type Way = { readonly build: string; readonly years?: number; readonly hands?: number; readonly group?: string };

const device = (name: string, ways: readonly Way[]): Candidate => ({
  device: name,
  options: ways.map(({ build, years = 2, hands = 10, group = "g" }, n) => ({
    ...{ group, way: `w${n}`, build, model: "m", chance: 1, years, hands },
  })),
});

/** As few builds as can be for groups that each want one device or more, with at least so many useful years. */
function fewest(
  candidates: readonly Candidate[],
  {
    years,
    bench = [],
    groups,
    beside,
  }: {
    years: number;
    bench?: readonly BenchTime[];
    groups: Readonly<Record<string, number>>;
    beside?: () => number;
  },
) {
  const question: Question = {
    groups: Object.entries(groups).map(([id, wanted]) => ({
      ...{ id, wanted, least: 1, by: "2026-12-14", weight: 1, spares: 0, alike: false },
    })),
    candidates,
    pins: [],
    aims: AIMS,
    confidence: 0.8,
    leeway: 0,
    bench,
  };
  const program = programOf(question, [], new Linear(highs));
  program.linear.atLeast(program.goals.least, question.groups.length);
  program.linear.floor(program.goals.years, years);
  const until = performance.now() + 5000;
  const seconds = () => (until - performance.now()) / 1000;
  const asked = jest.spyOn(program.linear, "largest");
  const reach = { question, program, aim: "builds", held: ["years"], seconds, beside } as unknown as Reach;
  const found = fewBuilds(reach, { seconds: 5, besides: () => [] });
  if (!found?.values) return { found, scores: null, asked };
  return { found, scores: scoresOf(question, placedBy(program.columns, found.values)), asked };
}

test("six groups with a build each come to the two that all of them share", () => {
  const ids = Array.from({ length: 6 }, (_, k) => `g${k}`);
  const groups = Object.fromEntries(ids.map((id) => [id, 1]));
  const candidates = ids.map((group, k) =>
    device(group, [
      { group, build: `own ${k}` },
      { group, build: `half ${k % 2}` },
      { group, build: `third ${k % 3}` },
    ]),
  );
  const { found, scores } = fewest(candidates, { years: 6, groups });
  expect(scores).toMatchObject({ builds: -2, least: 6 });
  expect(found?.bound).toBe(-2);
});

test("builds that do by parts of devices only are joined by another one, and looked for with less room", () => {
  const chance = new Chance(23);
  const candidates = Array.from({ length: 12 }, (_, k) =>
    device(
      `d${k}`,
      Array.from({ length: 4 }, () => ({
        build: `b${chance.below(9)}`,
        years: 1 + chance.below(30) / 10,
        hands: 5 + chance.below(20),
      })),
    ),
  );
  const years = 25.8;
  const { scores, asked } = fewest(candidates, {
    ...{ years, groups: { g: 12 } },
    bench: [{ day: "2026-12-14", minutes: 90 }],
  });
  expect(scores?.builds).toBe(-5);
  expect(scores?.years).toBeGreaterThan(years - 1e-6);
  expect(scores?.hands).toBeGreaterThanOrEqual(-90);
  const chosen = asked.mock.results.flatMap(({ value }, k) => (asked.mock.calls[k][2]?.whole && value ? [value] : []));
  // Five do not do with the room that was kept; the sixth is the one with which there are most years. Then five others do.
  expect(chosen.map(({ value }) => Math.floor(value))).toEqual([-5, 26, -5]);
  // Among sixths that are as good for years the one with fewer minutes by hand is taken: they count, far below years.
  const leads = asked.mock.calls.filter(([, , { whole } = {}]) => whole).map(([terms]) => terms)[1];
  const minutes = leads.filter(([, factor]) => factor < 0).map(([, factor]) => -factor);
  expect(minutes).toHaveLength(48);
  expect(Math.max(...minutes) / Math.min(...minutes)).toBeCloseTo(24 / 5);
  expect(24 * Math.max(...minutes)).toBeLessThan(0.1 * years);
});

test("where the fewest is proven beside, no other room is tried", () => {
  // Two triangles: every build serves two of three devices, so that each takes one and a half by parts, and two in truth.
  const ids = Array.from({ length: 6 }, (_, k) => `g${k}`);
  const groups = Object.fromEntries(ids.map((id) => [id, 1]));
  const candidates = ids.map((group, k) => {
    const triangle = Math.floor(k / 3);
    return device(group, [
      { group, build: `${triangle}: ${k % 3}` },
      { group, build: `${triangle}: ${(k + 1) % 3}` },
    ]);
  });
  const looks = (beside?: () => number) => {
    const { scores, asked } = fewest(candidates, { years: 6, groups, ...(beside ? { beside } : {}) });
    expect(scores?.builds).toBe(-4);
    return asked.mock.calls.length;
  };
  expect(looks(() => -4)).toBeLessThan(looks());
});

test("where what was reached before can't be kept nothing is found", () => {
  expect(fewest([device("x", [{ build: "b", years: 1 }])], { years: 2, groups: { g: 1 } }).scores).toBeNull();
});
