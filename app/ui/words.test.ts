import { allText, chanceText, sureText, weekdayText } from "./words";

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

test("with fewer devices than were asked for there is no chance of all of them", () => {
  expect([4, 6].map((there) => allText(6, there, 0.001))).toEqual(["2 too few", "under 1 %"]);
});

test("what was handed over is no chance any more; one device more is", () => {
  expect([5, 6, 7].map((count) => sureText(count, 6, chanceText(1)))).toEqual([
    "handed over",
    "handed over",
    "over 99 %",
  ]);
});

// By the ordinal rule of ISO 8601: 1 January 2024 was a Monday, and 2024 had a 29 February.
test("a day is told with its day of the week", () => {
  expect(["2024-01-01", "2024-02-29", "2026-12-31"].map(weekdayText)).toEqual([
    "Mon 1 Jan 2024",
    "Thu 29 Feb 2024",
    "Thu 31 Dec 2026",
  ]);
});
