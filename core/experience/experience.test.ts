import fc from "fast-check";
import jstat from "jstat";
import { chance, pooledChance } from "./chance";
import { pooledPace } from "./durations";
import { Experience } from "./experience";
import { observe, type RunRecord, type StepRow, stepSeconds } from "./observe";
import { brierScore, reliability } from "./promises";

const NONE = { ok: 0, of: 0 };

describe("a rate from counts and a belief", () => {
  // Published: Gelman et al., Bayesian Data Analysis, section 2.4 ("probability of a girl birth given placenta previa"): 437
  // of 980, uniform prior, posterior Beta(438, 544) with mean 0.446; values from memory.
  test("the handbook's worked example", () => {
    const { mean } = chance({ ok: 437, of: 980 }, 0.5, 2);
    expect(mean).toBeCloseTo(0.446, 3);
    const low = jstat.jStat.beta.inv(0.025, 438, 544);
    const high = jstat.jStat.beta.inv(0.975, 438, 544);
    expect([low.toFixed(3), high.toFixed(3)]).toEqual(["0.415", "0.477"]);
    const band = chance({ ok: 437, of: 980 }, 0.5, 2);
    expect(band.low).toBeGreaterThan(low);
    expect(band.high).toBeLessThan(high);
  });

  test("without runs the belief stands; with many the runs do", () => {
    expect(chance(NONE, 0.9, 10).mean).toBeCloseTo(0.9, 10);
    expect(chance({ ok: 500, of: 1000 }, 0.9, 10).mean).toBeCloseTo(0.504, 3);
  });

  test("it lies between belief and count, and inside its band", () => {
    fc.assert(
      fc.property(
        fc.nat(50),
        fc.nat(50),
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        fc.integer({ min: 1, max: 40 }),
        (ok, bad, believed, weight) => {
          const { mean, low, high } = chance({ ok, of: ok + bad }, believed, weight);
          const seen = ok + bad ? ok / (ok + bad) : believed;
          expect(mean).toBeGreaterThanOrEqual(Math.min(believed, seen) - 1e-9);
          expect(mean).toBeLessThanOrEqual(Math.max(believed, seen) + 1e-9);
          expect(low).toBeLessThan(high);
          // A belief that weighs next to nothing is so skewed that its mean may lie outside.
          if (weight * Math.min(believed, 1 - believed) < 1) return;
          expect(mean).toBeGreaterThan(low);
          expect(mean).toBeLessThan(high);
        },
      ),
    );
  });

  test("what happened near weighs more than what happened far away", () => {
    const bad = { ok: 0, of: 3 };
    const levels = { otherImages: NONE, otherModels: NONE, here: NONE };
    const far = pooledChance({ ...levels, otherImages: bad }, 0.9, 10).mean;
    const same = pooledChance({ ...levels, otherModels: bad }, 0.9, 10).mean;
    const here = pooledChance({ ...levels, here: bad }, 0.9, 10).mean;
    expect(far).toBeLessThan(0.9);
    expect(same).toBeCloseTo(far, 10);
    expect(here).toBeCloseTo(far, 10);
    // One failure here after three far away still counts in full.
    expect(pooledChance({ ...levels, otherImages: bad, here: { ok: 0, of: 1 } }, 0.9, 10).mean).toBeLessThan(far);
  });
});

test("paces: the promise stands without runs, and yields to them", () => {
  const none = { otherImages: [], otherModels: [], here: [] };
  expect(pooledPace(none, 10)).toEqual({ median: 1, fourOfFive: 1, of: 0 });
  const slow = pooledPace({ ...none, here: [2, 2, 2] }, 3);
  expect(slow.median).toBeCloseTo(Math.sqrt(2), 10);
  expect(pooledPace({ ...none, here: [1, 4] }, 1).fourOfFive).toBeGreaterThan(
    pooledPace({ ...none, here: [1, 4] }, 1).median,
  );
});

describe("what a run teaches", () => {
  const step = (operation: number, usualSeconds = 60) => ({
    operation,
    usualSeconds,
    latestSeconds: usualSeconds * 2,
    title: "t",
    deed: { kind: "hands", code: "x" },
  });
  const runbook = {
    model: "m",
    steps: [step(-1), step(0), step(0), step(1), step(2)],
    operations: [
      { kind: "unlock", image: null },
      { kind: "install-rom", image: "rom" },
    ],
  };
  const at = (seconds: number) => new Date(Date.UTC(2026, 0, 1) + seconds * 1000).toISOString();
  const row = (place: number, outcome: StepRow["outcome"], seconds: number): StepRow => ({
    place,
    outcome,
    at: at(seconds),
  });
  const record = (steps: StepRow[], end: RunRecord["end"] = null) =>
    ({ run: 1, runbook, begunAt: at(0), steps, end }) as unknown as RunRecord;

  test("a finished operation went well, the one at which it stopped did not, what was not reached teaches nothing", () => {
    const rows = [row(0, "done", 30), row(1, "done", 90), row(2, "done", 150), row(3, "wrong", 200)];
    const seen = observe(record(rows, { result: "does-not-start", place: 3 }));
    expect(seen.map((o) => [o.kind, o.ok])).toEqual([
      ["unlock", true],
      ["install-rom", false],
    ]);
    expect(observe(record(rows.slice(0, 1)))).toEqual([]);
  });

  test("a step that went wrong and was tried again is no success at the first try", () => {
    const rows = [
      row(0, "done", 30),
      row(1, "wrong", 60),
      row(1, "again", 70),
      row(1, "done", 90),
      row(2, "done", 120),
    ];
    expect(observe(record(rows))[0]).toMatchObject({ kind: "unlock", ok: false });
  });

  test("a lock that turned up is no fault of the operation", () => {
    expect(observe(record([row(0, "done", 30)], { result: "lock", place: 1 }))).toEqual([]);
  });

  test("pauses and nights are cut out of the clocks", () => {
    const night = 14 * 3600;
    const took = stepSeconds(
      record([
        row(0, "done", 50),
        row(1, "done", 50 + night),
        row(2, "begun", 51 + night),
        row(2, "done", 101 + night),
      ]),
    );
    expect([...took]).toEqual([
      [0, 50],
      [1, 60],
      [2, 50],
    ]);
  });

  test("a failed run lowers the chance of the next one like it, most on the same model", () => {
    const failed = observe(
      record([row(0, "done", 1), row(1, "done", 2), row(2, "done", 3)], { result: "starts", place: 3 }),
    );
    const taught = new Experience(failed, 10);
    const operation = { kind: "install-rom" as const, image: "rom" };
    const usual = { handsOn: 5, unattended: 5, failure: 0.06 };
    expect(taught.on("m")?.cost(operation, usual).failure).toBeGreaterThan(0.06);
    expect(taught.on("m")?.cost({ ...operation, kind: "relock" }, usual)).toBe(usual);
    expect(new Experience([], 10).on("m")).toBeUndefined();
  });
});

describe("promises", () => {
  // Published: Brier (1950), the score of a single forecast of 0.7 that came true is 0.09.
  test("a worked example", () => {
    expect(brierScore([{ chance: 0.7, kept: true }])).toBeCloseTo(0.09, 10);
    expect(
      brierScore([
        { chance: 0.7, kept: true },
        { chance: 0.7, kept: false },
      ]),
    ).toBeCloseTo((0.09 + 0.49) / 2, 10);
    expect(brierScore([])).toBeNull();
  });
  test("promises by tenths; a certain one is in the last", () => {
    const bins = reliability([
      { chance: 0.85, kept: true },
      { chance: 0.88, kept: false },
      { chance: 1, kept: true },
    ]);
    expect(bins.map((b) => [b.from, b.of, b.kept])).toEqual([
      [0.8, 2, 0.5],
      [0.9, 1, 1],
    ]);
  });
});
