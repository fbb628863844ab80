import { outcomeOfPromise } from "./promise";

const promise = { count: 2, day: "2026-12-14", chance: 0.85 };

test.each([
  ["nothing came yet", [], "2026-12-14", "open"],
  ["too few came, and the day is over", ["2026-12-01"], "2026-12-15", "broken"],
  ["enough came, the last on the day itself", ["2026-12-01", "2026-12-14"], "2026-12-20", "kept"],
  ["enough came early", ["2026-12-01", "2026-12-02"], "2026-12-03", "kept"],
  ["enough came, but a day late", ["2026-12-01", "2026-12-15"], "2026-12-15", "broken"],
])("what came of a promise: %s", (_, days, today, outcome) => {
  expect(outcomeOfPromise(promise, days, today)).toBe(outcome);
});
