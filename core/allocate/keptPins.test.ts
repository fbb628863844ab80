import loadHighs from "highs";
import { divide } from "./divide";
import { keptPins } from "./keptPins";
import { AIMS, type Option, type Pin, type Question } from "./question";

const group = (id: string, by: string) => ({ id, wanted: 3, least: 1, by, weight: 1, spares: 0, alike: false });
const option = (parts: Partial<Option>): Option => ({
  ...{ group: "g", way: "w", build: "b", model: "m", chance: 0.9, years: 2, hands: 10 },
  ...parts,
});
const there = (device: string, at = "g"): Pin => ({ device, group: at, kind: "there" });

/** Three devices for two groups, a fortnight apart. */
const question = (parts: Partial<Question>): Question => ({
  groups: [group("g", "2026-12-14"), group("later", "2026-12-28")],
  candidates: ["x", "y", "z"].map((device) => ({ device, options: [option({}), option({ group: "later" })] })),
  pins: ["x", "y", "z"].map((device) => there(device)),
  aims: AIMS,
  confidence: 0.8,
  leeway: 0,
  bench: [],
  ...parts,
});
const keptOf = (asked: Question) => keptPins(asked).kept.map(({ device }) => device);

test("pins are kept in their order as far as the bench has time by the day of their group", () => {
  const hands = { day: "2026-12-14", minutes: 25 };
  expect(keptOf(question({}))).toEqual(["x", "y", "z"]);
  expect(keptOf(question({ bench: [hands] }))).toEqual(["x", "y"]);
  expect(keptPins(question({ bench: [hands] })).problems).toEqual([expect.stringMatching(/^z is pinned .* no time/)]);
  // What is wanted later waits for no evening before it; what is wanted sooner is gone from all that come behind.
  const pins = [there("x"), there("y", "later"), there("z")];
  expect(keptOf(question({ bench: [hands], pins }))).toEqual(["x", "y", "z"]);
  expect(keptOf(question({ bench: [{ ...hands, day: "2026-12-28" }], pins }))).toEqual(["x", "y"]);
});

test("where a promise rests on it nobody is told to take a pin away, but the promise", () => {
  const pins = [there("x"), there("y"), { ...there("z"), promised: true as const }];
  const [says, ...more] = keptPins(question({ bench: [{ day: "2026-12-14", minutes: 25 }], pins })).problems;
  expect(more).toEqual([]);
  expect(says).toMatch(/^z is promised .* no time .* take the promise back, and tell the group$/);
});

test("a place at a bench, and somebody who may do it, are asked for like hands", () => {
  const by = "2026-12-14";
  const candidates = ["x", "y", "z"].map((device) => ({
    device,
    options: [option({ skill: "card", place: 30 }), option({ way: "cable", skill: "cable", hands: 12, place: 10 })],
  }));
  const asked = (bench: Question["bench"]) => keptPins(question({ candidates, bench }));
  const waysOf = (bench: Question["bench"]) => asked(bench).kept.map((each) => each.option.way);
  expect(waysOf([{ day: by, minutes: 99 }])).toEqual(["w", "w", "w"]);
  expect(waysOf([{ day: by, of: "places", minutes: 45 }])).toEqual(["w", "cable"]);
  expect(waysOf([{ day: by, skills: ["card"], minutes: 0 }])).toEqual(["cable", "cable", "cable"]);
  expect(asked([{ day: by, skills: ["card", "cable"], minutes: 0 }])).toMatchObject({
    kept: [],
    problems: { length: 3 },
  });
});

test("what can't be kept takes nothing from the rest: they are divided, and how good that is is proven", async () => {
  const asked = question({
    candidates: ["x", "y", "z", "free"].map((device) => ({
      device,
      options: [option({}), option({ group: "later" })],
    })),
    bench: [
      { day: "2026-12-14", minutes: 25 },
      { day: "2026-12-28", minutes: 35 },
    ],
  });
  const highs = await loadHighs();
  const found = divide(asked, { highs, milliseconds: 5000, now: () => performance.now() });
  expect(found.placed.map((each) => `${each.device} ${each.option.group}`).slice(0, 2)).toEqual(["x g", "y g"]);
  expect(found.placed).toHaveLength(3);
  expect(found.finished).toBe(true);
  expect(found.problems).toHaveLength(1);
});
