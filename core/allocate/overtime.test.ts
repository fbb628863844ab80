import { overtime } from "./overtime";
import type { BenchTime, Option } from "./question";

const group = (id: string, by: string) => ({ id, wanted: 3, least: 1, by, weight: 1, spares: 0, alike: false });
const groups = [group("soon", "2026-12-01"), group("later", "2026-12-14")];
const put = (device: string, parts: Partial<Option>) => ({
  device,
  option: { group: "soon", way: "w", build: "b", model: "m", chance: 1, years: 1, hands: 10, ...parts },
});
const placed = [put("x", {}), put("y", { place: 40, skill: "card" }), put("z", { group: "later", hands: 15 })];
const over = (...bench: BenchTime[]) => overtime({ bench, groups }, placed).map((each) => [each.time.day, each.over]);

test("what is due by a day is held against what there is until then, of each kind the worst day", () => {
  expect(over({ day: "2026-12-01", minutes: 20 }, { day: "2026-12-14", minutes: 35 })).toEqual([]);
  expect(over({ day: "2026-12-01", minutes: 18 }, { day: "2026-12-14", minutes: 20 })).toEqual([["2026-12-14", 15]]);
  expect(over({ day: "2026-12-14", of: "places", minutes: 60 })).toEqual([["2026-12-14", 5]]);
  expect(over({ day: "2026-12-01", minutes: 19 }, { day: "2026-12-01", skills: ["card"], minutes: 4 })).toEqual([
    ["2026-12-01", 1],
    ["2026-12-01", 6],
  ]);
  expect(over({ day: "2026-12-14", skills: ["cable"], minutes: 0 })).toEqual([]);
});
