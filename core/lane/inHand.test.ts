import { inHand } from "./inHand";

const step = (by: string, minute: number) => ({ by, at: `2026-11-27T18:${String(minute).padStart(2, "0")}:00Z` });
const run = { done: 2, steps: 9 };

test("whoever wrote the last step has it, since the first of theirs in a row", () => {
  const steps = [step("Oda", 0), step("Mira", 5), step("Mira", 9)];
  expect(inHand(steps, run, "2026-11-27T18:30:00Z")).toEqual({ by: "Mira", since: steps[1].at });
});

test.each([
  ["not begun", [], run, "2026-11-27T18:30:00Z"],
  ["finished", [step("Oda", 0)], { done: 9, steps: 9 }, "2026-11-27T18:01:00Z"],
  ["put down long ago", [step("Oda", 0)], run, "2026-11-27T19:31:00Z"],
])("%s: nobody has it", (_what, steps, at, now) => expect(inHand(steps, at, now)).toBeNull());
