import { clockOf, dayOfMinute, minuteOf, timeOf } from "./times";

// Clocks go back in the night to 25 October 2026 (Directive 2000/84/EC, article 3: the last Sunday of October).
test.each([
  ["2026-10-24", "2026-10-26"],
  ["2026-03-28", "2026-03-30"],
])("an evening at six is at six also behind a night in which clocks are changed (%s)", (from, on) => {
  const minute = 2 * 24 * 60 + 18 * 60;
  expect(new Date(2026, 9, 26).getTimezoneOffset()).toBe(-60); // jest.config.js
  expect([dayOfMinute(from, minute), clockOf(from, minute)]).toEqual([on, "18:00"]);
  expect(minuteOf(from, timeOf(from, minute))).toBe(minute);
});

test("minutes before the first day are there too", () => {
  expect(minuteOf("2026-12-02", timeOf("2026-12-02", -30))).toBe(-30);
  expect(clockOf("2026-12-02", -30)).toBe("23:30");
});
