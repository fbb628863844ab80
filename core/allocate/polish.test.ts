import { polish } from "./polish";
import type { Option, Placed, Question } from "./question";
import { scoresOf } from "./verdict";

const option = (group: string, parts: Partial<Option> = {}): Option => ({
  group,
  way: "w",
  build: "m|i",
  model: "m",
  chance: 0.9,
  years: 2,
  hands: 10,
  ...parts,
});
const group = (id: string, wanted: number) => ({
  id,
  wanted,
  least: 1,
  by: "2026-12-10",
  weight: 1,
  spares: 0,
  alike: false,
});
const question = (devices: number): Question => ({
  candidates: Array.from({ length: devices }, (_, k) => ({ device: `d${k}`, options: [option("a"), option("b")] })),
  groups: [group("a", 6), group("b", 6)],
  pins: [],
  aims: ["fair"],
  confidence: 0.5,
  leeway: 0,
  bench: [],
});
/** Counts how often it may look at the clock. */
const looks = (times: number) => () => times-- > 0;

test("what the solver found is where it begins, also where devices of one class share one option", () => {
  const asked = question(6);
  const shared = option("a");
  const placed: Placed[] = asked.candidates.map(({ device }) => ({ device, option: shared }));
  const left = polish(asked, placed, "hands", { least: 2 }, { seed: 1, pinned: new Set(), goOn: looks(0) });
  expect(left.map(({ device }) => device)).toEqual(placed.map(({ device }) => device));
});

test("shares become fair, whatever they were, and nothing falls below its floor", () => {
  const asked = question(8);
  const placed: Placed[] = asked.candidates.slice(0, 6).map(({ device, options }) => ({ device, option: options[0] }));
  const better = polish(asked, placed, "fair", {}, { seed: 1, pinned: new Set(), goOn: looks(200) });
  expect(["a", "b"].map((id) => better.filter((each) => each.option.group === id).length)).toEqual([4, 4]);
  const years = scoresOf(asked, better).years;
  const kept = polish(asked, better, "hands", { years }, { seed: 2, pinned: new Set(), goOn: looks(200) });
  expect(scoresOf(asked, kept).years).toBeCloseTo(years, 9);
  const pinned = new Set(["d0"]);
  const still = polish(asked, placed, "fair", {}, { seed: 1, pinned, goOn: looks(200) });
  expect(still.find(({ device }) => device === "d0")?.option.group).toBe("a");
});
