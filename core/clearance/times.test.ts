import fc from "fast-check";
import { answeredBy, answerTimes, silenceCurve, silentAfter } from "./answers";
import { type ClearanceCase, foldCase } from "./case";
import { clearBy, dayAllClear } from "./clearBy";
import { DEFAULT_FOLLOW_UP, dueOf, FollowUpPolicy } from "./followUp";

describe("how long donors take", () => {
  // Published: Freireich et al. (1963), remission times on 6-MP in weeks, + still in remission; the product-limit estimate
  // for it is worked out in many textbooks, first in Gehan (1965) and Kalbfleisch & Prentice (1980). Values from memory.
  const FREIREICH = "6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+";
  const curve = silenceCurve(
    FREIREICH.split(" ").map((t) => ({ days: Number.parseInt(t, 10), answered: !t.endsWith("+") })),
  );

  test("agrees with the worked example", () => {
    expect(curve.map((p) => [p.day, p.atRisk, Number(p.share.toFixed(4))])).toEqual([
      [6, 21, 0.8571],
      [7, 17, 0.8067],
      [10, 15, 0.7529],
      [13, 12, 0.6902],
      [16, 11, 0.6275],
      [22, 7, 0.5378],
      [23, 6, 0.4482],
    ]);
    // Greenwood's standard errors of the same example.
    expect(curve.map((p) => Number(p.error.toFixed(4)))).toEqual([
      0.0764, 0.0869, 0.0963, 0.1068, 0.1141, 0.1282, 0.1346,
    ]);
    expect(answeredBy(curve, 0.5)).toBe(23);
    expect(answeredBy(curve, 0.8)).toBeNull();
    expect([silentAfter(curve, 5), silentAfter(curve, 6), silentAfter(curve, 100)].map((s) => s.toFixed(4))).toEqual([
      "1.0000",
      "0.8571",
      "0.4482",
    ]);
  });

  test("without open cases it is the plain median and 80 % point", () => {
    const days = fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 40 });
    fc.assert(
      fc.property(days, (all) => {
        const sorted = [...all].sort((a, b) => a - b);
        const own = silenceCurve(all.map((d) => ({ days: d, answered: true })));
        for (const share of [0.5, 0.8])
          expect(answeredBy(own, share)).toBe(sorted[Math.ceil(share * all.length - 1e-9) - 1]);
      }),
    );
  });

  test("who declined counts among the silent for ever, not only until they declined", () => {
    const own = silenceCurve([
      { days: 1, answered: false, over: true },
      { days: 2, answered: true },
      { days: 4, answered: true },
      { days: 6, answered: true },
    ]);
    expect(own.map((p) => p.share)).toEqual([0.75, 0.5, 0.25].map((s) => expect.closeTo(s, 10)));
  });

  test("channels apart, with the counts they rest on", () => {
    const times = answerTimes([
      { channel: "email", days: 3, answered: true },
      { channel: "email", days: 9, answered: false },
      { channel: "desk", days: 0, answered: true },
    ]);
    expect(times).toEqual([
      { channel: "all", asked: 3, answered: 2, median: 3, eighty: null },
      { channel: "desk", asked: 1, answered: 1, median: 0, eighty: 0 },
      { channel: "email", asked: 2, answered: 1, median: 3, eighty: null },
    ]);
  });
});

describe("when they may be clear", () => {
  // Published: the binomial distribution; n = 10, p = 0.5: P(X ≤ 3) = 0.1719, P(X ≤ 6) = 0.8281, P(X ≤ 7) = 0.9453
  // (National Bureau of Standards, Tables of the Binomial Probability Distribution, 1950; values from memory).
  test("equal donors with one device each follow the binomial table", () => {
    const half = silenceCurve([
      { days: 5, answered: true },
      { days: 99, answered: false },
    ]);
    const days = clearBy(
      half,
      Array.from({ length: 10 }, () => ({ devices: 1, waited: 0 })),
      0,
      5,
    );
    expect(days[4]).toMatchObject({ expected: 0, low: 0, high: 0, all: 0 });
    // Cumulative: 0.0547 at 2, 0.1719 at 3; 0.8281 at 6, 0.9453 at 7.
    expect(days[5]).toMatchObject({ low: 3, high: 7 });
    expect(days[5].expected).toBeCloseTo(5, 10);
    expect(days[5].all).toBeCloseTo(0.5 ** 10, 12);
  });

  test("devices of one donor come together; what is clear already counts from the first day", () => {
    const curve = silenceCurve([
      { days: 2, answered: true },
      { days: 4, answered: true },
    ]);
    const days = clearBy(curve, [{ devices: 3, waited: null }], 7, 4);
    expect(days.map((d) => d.expected)).toEqual([7, 7, 8.5, 8.5, 10]);
    expect(days[2]).toMatchObject({ low: 7, high: 10 });
    expect(dayAllClear(days, 0.8)).toBe(4);
    expect(dayAllClear(days, 0.5)).toBe(2);
  });

  test("who has waited long is not taken for somebody who was asked today", () => {
    const curve = silenceCurve([1, 2, 3, 10].map((days) => ({ days, answered: true })));
    const [today, late] = [0, 3].map((waited) => clearBy(curve, [{ devices: 1, waited }], 0, 3)[3].expected);
    expect(today).toBeCloseTo(0.75, 10);
    expect(late).toBe(0);
  });

  test("never more than there are, never fewer than before", () => {
    const asking = fc.record({ days: fc.integer({ min: 0, max: 40 }), answered: fc.boolean() });
    const wait = fc.record({
      devices: fc.integer({ min: 1, max: 4 }),
      waited: fc.option(fc.integer({ min: 0, max: 50 }), { nil: null }),
    });
    fc.assert(
      fc.property(fc.array(asking, { maxLength: 20 }), fc.array(wait, { maxLength: 8 }), (askings, waits) => {
        const all = waits.reduce((sum, w) => sum + w.devices, 0);
        const days = clearBy(silenceCurve(askings), waits, 0, 30);
        days.forEach((d, i) => {
          expect(d.low).toBeLessThanOrEqual(d.high);
          expect(d.high).toBeLessThanOrEqual(all);
          expect(d.expected).toBeGreaterThanOrEqual((days[i - 1]?.expected ?? 0) - 1e-9);
        });
      }),
      { numRuns: 60 },
    );
  });
});

describe("what is due", () => {
  const asked = (day: string, more: Partial<ClearanceCase> = {}): ClearanceCase => ({
    ...foldCase([]),
    state: "asked",
    since: `${day}T10:00:00.000Z`,
    askedAt: `${day}T10:00:00.000Z`,
    ...more,
  });
  const due = (was: ClearanceCase, today: string) => dueOf(was, "2026-11-01", DEFAULT_FOLLOW_UP, today);

  // Handbook default: ask, remind after 7, again after 14, decide after 30 days.
  test("seven, fourteen, thirty days from the first asking", () => {
    expect(due(asked("2026-11-01"), "2026-11-05")).toEqual({ kind: "remind", on: "2026-11-08", daysOver: -3 });
    expect(due(asked("2026-11-01"), "2026-11-10")).toEqual({ kind: "remind", on: "2026-11-08", daysOver: 2 });
    const once = asked("2026-11-01", { reminders: ["2026-11-08T10:00:00.000Z"] });
    expect(due(once, "2026-11-15")).toEqual({ kind: "remind-again", on: "2026-11-15", daysOver: 0 });
    const twice = asked("2026-11-01", { reminders: ["a", "b"] });
    expect(due(twice, "2026-11-20")).toMatchObject({ kind: "decide", on: "2026-12-01", daysOver: -11 });
    expect(due(asked("2026-11-01"), "2026-12-01")).toMatchObject({ kind: "decide", daysOver: 0 });
  });

  test("a promise has its own day, but the decision is not put off by it", () => {
    const promised = asked("2026-11-01", { state: "promised", promisedFor: "2026-11-20" });
    expect(due(promised, "2026-11-10")).toMatchObject({ kind: "promise", on: "2026-11-20" });
    expect(due({ ...promised, promisedFor: "2026-12-24" }, "2026-11-10")).toMatchObject({
      kind: "decide",
      on: "2026-12-01",
    });
  });

  test("our own steps within two days; finished cases have nothing due", () => {
    expect(due(foldCase([]), "2026-11-05")).toEqual({ kind: "look", on: "2026-11-03", daysOver: 2 });
    expect(due(asked("2026-11-04", { state: "removed" }), "2026-11-05")).toMatchObject({
      kind: "confirm",
      on: "2026-11-06",
    });
    for (const state of ["confirmed-clear", "declined", "unreachable", "reported-lost", "not-applicable"] as const)
      expect(due(asked("2026-11-01", { state }), "2026-12-24")).toBeNull();
  });

  test("days that run backwards are refused in words", () => {
    expect(
      FollowUpPolicy.safeParse({ remindAfter: 20, remindAgainAfter: 10, decideAfter: 30 }).error?.issues[0].message,
    ).toBe("The second reminder comes after the first");
  });
});

test.each([
  ["eraseContactAfter", 0, 3650],
  ["deleteEvidenceAfter", 0, 3650],
  ["actWithin", 0, 30],
] as const)("%s: from %d to %d days, and whole ones", (key, least, most) => {
  const allows = (days: number) => FollowUpPolicy.safeParse({ ...DEFAULT_FOLLOW_UP, [key]: days }).success;
  expect([least, least + 1, most - 1, most].filter(allows)).toEqual([least, least + 1, most - 1, most]);
  expect([least - 1, most + 1, 1.5].filter(allows)).toEqual([]);
});
