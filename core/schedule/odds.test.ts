import { atLeast } from "~/core/allocate/confidence";
import { oddsOf, type Uncertain, type World } from "./odds";

const device = (name: string, parts: Partial<Uncertain> = {}): Uncertain => ({
  device: name,
  group: "g",
  donor: name,
  evening: 0,
  minutes: 60,
  volunteer: "Odile",
  clearBy: [],
  success: 1,
  again: false,
  pilot: null,
  ...parts,
});
const world = (devices: readonly Uncertain[], parts: Partial<World> = {}): World => ({
  devices,
  evenings: [
    { day: 1, minutes: 180 },
    { day: 3, minutes: 180 },
    { day: 8, minutes: 180 },
  ],
  groups: [{ id: "g", wanted: devices.length, least: 1, by: 3, has: 0 }],
  spread: 0,
  noShow: 0,
  ...parts,
});
const named = (count: number, parts: Partial<Uncertain> = {}) =>
  Array.from({ length: count }, (_, k) => device(`d${k}`, parts));
const RUNS = 2000;

test("nothing uncertain: all are ready on the evening on which they are planned", () => {
  const [odds] = oddsOf(world(named(3)), RUNS, 1);
  expect(odds.odds.map(({ chance }) => chance)).toEqual([1, 1, 1]);
  expect(odds.odds.map(({ sure }) => sure)).toEqual(odds.odds.map(() => 1));
  expect(odds.days[0]).toEqual({ day: 0, low: 0, middle: 0, high: 0 });
  expect(odds.days[1]).toEqual({ day: 1, low: 3, middle: 3, high: 3 });
  for (const { devices } of odds.costs) expect(devices).toBe(0);
});

// Exact: the Poisson-binomial distribution. 2,000 runs are within four standard errors of it.
test("ways that go wrong without a second try: as the exact distribution has it", () => {
  const [{ odds }] = oddsOf(world(named(8, { success: 0.8 })), RUNS, 3);
  for (const { count, chance } of odds) {
    const exact = atLeast(Array<number>(8).fill(0.8), count);
    expect(Math.abs(chance - exact)).toBeLessThan(4 * Math.sqrt((exact * (1 - exact)) / RUNS) + 1e-9);
  }
});

test("a second try takes another evening", () => {
  const [odds] = oddsOf(world(named(1, { success: 0.5, again: true })), RUNS, 5);
  const chanceBy = (day: number) => {
    const [late] = oddsOf(
      world(named(1, { success: 0.5, again: true }), { groups: [{ id: "g", wanted: 1, least: 1, by: day, has: 0 }] }),
      RUNS,
      5,
    );
    return late.odds[0].chance;
  };
  expect(chanceBy(1)).toBeCloseTo(0.5, 1);
  expect(odds.odds[0].chance).toBeCloseTo(0.75, 1);
  expect(odds.costs[0]).toMatchObject({ cause: "success" });
});

test("devices of one donor come together or not at all", () => {
  const clearBy = [0.5, 0.5, 0.5];
  const together = oddsOf(world(named(4, { donor: "one", clearBy, evening: null })), RUNS, 7)[0].odds;
  expect(together[0].chance).toBe(together[3].chance);
  const apart = oddsOf(world(named(4, { clearBy, evening: null })), RUNS, 7)[0].odds;
  expect(apart[3].chance).toBeCloseTo(0.5 ** 4, 1);
});

test("a volunteer who does not come costs an evening; a pilot that fails costs the others one", () => {
  const [away] = oddsOf(world(named(2), { noShow: 1 }), 50, 9);
  expect(away.days.find(({ high }) => high === 2)?.day).toBe(3);
  const build = [device("pilot", { success: 0 }), device("other", { pilot: "pilot" })];
  const [{ days }] = oddsOf(world(build), 50, 9);
  expect(days.find(({ high }) => high === 1)?.day).toBe(3);
});

test("work that takes longer than the evening goes on to the next", () => {
  const [odds] = oddsOf(
    world(named(1, { minutes: 170 }), { spread: 0.4, groups: [{ id: "g", wanted: 1, least: 1, by: 1, has: 0 }] }),
    RUNS,
    2,
  );
  // ln(180 / 170) / 0.4 = 0.143 standard deviations: 55.7 % (any table of the normal distribution).
  expect(odds.odds[0].chance).toBeCloseTo(0.557, 1);
  expect(odds.costs[0].cause).toBe("durations");
});

test("the same seed gives the same answer", () => {
  const asked = world(named(5, { success: 0.7, again: true }), { spread: 0.3, noShow: 0.1 });
  expect(oddsOf(asked, 200, 4)).toEqual(oddsOf(asked, 200, 4));
});

test("what was handed over already counts", () => {
  const [odds] = oddsOf(
    world(named(1, { success: 0 }), { groups: [{ id: "g", wanted: 2, least: 1, by: 1, has: 1 }] }),
    50,
    1,
  );
  expect(odds.odds.map(({ count, chance }) => [count, chance])).toEqual([
    [1, 1],
    [2, 0],
  ]);
});
