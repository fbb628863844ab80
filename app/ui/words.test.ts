import { chanceText, sureText } from "./words";

test("nothing that is still to come is certain", () => {
  expect([1, 0.995, 0.994, 0.5, 0.006, 0.005, 0].map(chanceText)).toEqual([
    "over 99 %",
    "over 99 %",
    "99 %",
    "50 %",
    "1 %",
    "under 1 %",
    "under 1 %",
  ]);
});

test("what was handed over is no chance any more; one device more is", () => {
  expect([5, 6, 7].map((count) => sureText(count, 6, chanceText(1)))).toEqual([
    "handed over",
    "handed over",
    "over 99 %",
  ]);
});
