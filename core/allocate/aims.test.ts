import { aimsByPlace, DEFAULT_AIMS, DivisionAims } from "./aims";

test("places as they are typed: the smaller first, what has none or nonsense does not count", () => {
  expect(aimsByPlace({ least: "2", fair: "1", years: "", builds: "0", hands: "x" })).toEqual(["fair", "least"]);
  expect(aimsByPlace({ years: "1", least: "1" })).toEqual(["least", "years"]);
});

test("per cent as people type them, each within what makes sense, and no aim twice", () => {
  expect(DivisionAims.parse({ aims: ["fair"], confidence: "90", leeway: "0" })).toEqual({
    aims: ["fair"],
    confidence: 0.9,
    leeway: 0,
  });
  for (const wrong of [
    { aims: [], confidence: 80, leeway: 1 },
    { aims: ["fair", "fair"], confidence: 80, leeway: 1 },
    { aims: ["fair"], confidence: 100, leeway: 1 },
    { aims: ["fair"], confidence: 80, leeway: 21 },
    { aims: ["fair"], confidence: "many", leeway: 1 },
  ])
    expect(DivisionAims.safeParse(wrong).success).toBe(false);
  expect(DEFAULT_AIMS.aims[0]).toBe("least");
});
