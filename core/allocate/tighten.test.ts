import fc from "fast-check";
import loadHighs, { type Highs } from "highs";
import { probit } from "simple-statistics";
import { atLeast } from "./confidence";
import { divide } from "./divide";
import { greedy } from "./greedy";
import { Linear } from "./linear";
import { programOf } from "./program";
import { AIMS, type Candidate, type Group, type Question } from "./question";
import { askAhead, askedRows } from "./tighten";
import { compareScores, scoresOf } from "./verdict";

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

const group = (id: string, parts: Partial<Group>): Group => ({
  id,
  wanted: 30,
  least: 10,
  by: "2026-12-14",
  weight: 1,
  spares: 0,
  alike: false,
  ...parts,
});
const asking = (groups: readonly Group[], candidates: readonly Candidate[]): Question => ({
  candidates,
  groups,
  pins: [],
  aims: AIMS,
  confidence: 0.9,
  leeway: 0,
  bench: [],
});
const device = (k: number, chance: number, groups: readonly string[]): Candidate => ({
  device: `d${k}`,
  options: groups.map((id) => ({
    group: id,
    way: "w",
    build: `b${k % 5}`,
    model: `m${k % 5}`,
    chance: Math.round(chance * 100) / 100,
    years: 1 + (k % 4),
    hands: 10 + (k % 7),
  })),
});

test("what has as much as is asked for ahead is enough by the normal distribution", () => {
  const chances = fc.array(fc.integer({ min: 20, max: 99 }), { minLength: 16, maxLength: 30 });
  let asked = 0;
  fc.assert(
    fc.property(chances, fc.integer({ min: 1, max: 30 }), (hundredths, least) => {
      fc.pre(new Set(hundredths).size > 8);
      const question = asking(
        [group("a", { least })],
        hundredths.map((chance, k) => device(k, chance / 100, ["a"])),
      );
      const program = programOf(question, [], new Linear(highs));
      const all = question.candidates.map(({ device: name, options }) => ({ device: name, option: options[0] }));
      askAhead(program, question, all.slice(0, Math.max(least, 5)));
      const [row] = askedRows(program, question, []);
      const yes = program.met.get("a");
      const worth = row.terms.reduce(
        (sum, [column, factor]) =>
          sum +
          factor * (column === yes ? 1 : (program.columns.find((c) => c.column === column)?.of.devices.length ?? 0)),
        0,
      );
      if (worth < row.low) return;
      asked++;
      const ps = all.map(({ option: { chance } }) => chance);
      const mean = ps.reduce((sum, p) => sum + p, 0);
      const varies = Math.sqrt(ps.reduce((sum, p) => sum + p * (1 - p), 0));
      expect(mean - probit(0.9) * varies).toBeGreaterThan(least - 0.5);
    }),
    { numRuns: 120 },
  );
  expect(asked).toBeGreaterThan(20);
});

test("a large question with many chances: what counts as met is met, exactly; nothing is worse than the first division", () => {
  const groups = [
    group("a", { least: 14, weight: 2 }),
    group("b", { least: 12 }),
    group("c", { wanted: 40, least: 18 }),
    group("d", { least: 8, weight: 3 }),
  ];
  const ids = groups.map(({ id }) => id);
  const candidates = Array.from({ length: 110 }, (_, k) => device(k, 0.55 + ((k * 37) % 44) / 100, ids.slice(k % 3)));
  const question = asking(groups, candidates);
  const { placed, shares, proven, scores } = divide(question, {
    highs,
    now: () => performance.now(),
    milliseconds: 700,
  });
  for (const { group: id, met, placed: count } of shares) {
    const { least, wanted } = groups.find((g) => g.id === id) as Group;
    const chances = placed.flatMap(({ option }) => (option.group === id ? [option.chance] : []));
    expect(met).toBe(atLeast(chances, least) >= 0.9 - 1e-9);
    expect(count).toBeLessThanOrEqual(wanted);
  }
  expect(new Set(placed.map((p) => p.device)).size).toBe(placed.length);
  expect(compareScores(AIMS, scores, scoresOf(question, greedy(question)))).toBeGreaterThanOrEqual(0);
  expect(scores.least).toBe(7);
  for (const { value, bound, tight } of proven) {
    expect(value).toBeLessThanOrEqual(bound + 1e-6);
    expect(value).toBeLessThanOrEqual(tight + 1e-6);
  }
});
