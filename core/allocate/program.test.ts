import loadHighs from "highs";
import { Linear } from "./linear";
import { programOf } from "./program";
import { AIMS, type Question } from "./question";

test("a device that may go to several groups by one build needs that build whole, also without whole numbers", async () => {
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
  const linear = new Linear(await loadHighs());
  const { columns, goals } = programOf(question, [], linear);
  linear.atLeast(
    columns.map(({ column }) => [column, 1]),
    1,
  );
  expect(linear.largest(goals.builds, 5, { relaxed: true })?.value).toBeCloseTo(-1);
});
