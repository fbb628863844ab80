import { chanceInWords, outcomeOfPromise, type PromiseLetter, promiseLetter } from "./promise";

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

test("a chance is never said as certain, nor as none", () => {
  expect([0.85, 0.999, 1, 0.994, 0, 0.004, 0.006].map(chanceInWords)).toEqual([
    "in 85 of 100 such cases",
    "in more than 99 of 100 such cases",
    "in more than 99 of 100 such cases",
    "in 99 of 100 such cases",
    "in fewer than 1 of 100 such cases",
    "in fewer than 1 of 100 such cases",
    "in 1 of 100 such cases",
  ]);
});

const letter: PromiseLetter = {
  group: "Advice centre",
  organisation: "Second Bench",
  sender: "Odile",
  wanted: 10,
  count: 8,
  day: "14 Dec 2026",
  sure: "17 Dec 2026",
  chance: 0.85,
  kinds: [{ name: "Lume, Android 13", count: 7 }],
  uncleared: 3,
  holdsUp: "donors who have not answered",
};

test("the letter says what, by when, how sure, what is not theirs to promise, and what may come between", () => {
  const { subject, body } = promiseLetter(letter);
  expect(subject).toBe("8 of the 10 devices you asked for, by 14 Dec 2026");
  for (const part of [
    "8 of them by 14 Dec 2026",
    "in 85 of 100 such cases",
    "Nine times in ten it is done by 17 Dec 2026",
    "- 7 × Lume, Android 13",
    "3 of them still wait for a former owner",
    "donors who have not answered",
  ])
    expect(body).toContain(part);
});

test("what is not so is not in it", () => {
  const { body } = promiseLetter({ ...letter, count: 10, uncleared: 0, holdsUp: null, sure: null, kinds: [] });
  expect(body).toContain("all 10 by");
  expect(body).not.toMatch(/former owner|hold it up|Nine times|meant for you/);
});
