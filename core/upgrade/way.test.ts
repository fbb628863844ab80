import { DEFAULT_POLICY, type RankKey } from "~/core/policy/policy";
import { makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { faultsOn, fitNeed, type RunningSystem } from "./needFit";
import { compareWays, decidingAspect, dominates, nonDominated } from "./ranking";
import type { Way } from "./way";

function way(over: Partial<Way> & { id: string }): Way {
  return {
    operations: [],
    image: null,
    release: "13",
    api: 33,
    patch: "2025-01-05",
    basePatch: null,
    handsOnMinutes: 20,
    unattendedMinutes: 20,
    waitingDays: 0,
    bytes: 1_000_000_000,
    success: 0.9,
    wipes: 2,
    irreversible: [],
    questions: [],
    fit: { works: true, appsRun: ["A"], appsNot: [], hardwareNot: [] },
    faults: [],
    keeps: false,
    cleaned: null,
    enough: false,
    cautions: [],
    writes: true,
    learned: [],
    back: null,
    ...over,
  };
}

const fault = { hardware: "camera" as const, says: "it stops" };

describe("ranking by the house's order", () => {
  const order = (ways: Way[], rank: RankKey[] = DEFAULT_POLICY.rank) =>
    [...ways].sort((a, b) => compareWays(a, b, { ...DEFAULT_POLICY, rank })).map((w) => w.id);

  test("what works for the need goes before what is newer", () => {
    const newest = way({
      id: "newest",
      api: 35,
      fit: { works: false, appsRun: [], appsNot: [{ app: "A", says: "no" }], hardwareNot: [] },
    });
    expect(order([newest, way({ id: "older" })])).toEqual(["older", "newest"]);
  });

  test("steady goes before newest, unless the house puts the release first", () => {
    const newest = way({ id: "newest", api: 35, faults: [fault] });
    const steady = way({ id: "steady", api: 34 });
    expect(order([newest, steady])).toEqual(["steady", "newest"]);
    expect(order([newest, steady], ["works", "release", "steady"])).toEqual(["newest", "steady"]);
    expect(decidingAspect(steady, newest, DEFAULT_POLICY)).toBe("steady");
  });

  test("between ways that the house takes for equal, what it leaves out decides; between the same ones the name", () => {
    const none: RankKey[] = ["works"];
    const slow = way({ id: "a", handsOnMinutes: 40 });
    const quick = way({ id: "b" });
    expect(order([slow, quick], none)).toEqual(["b", "a"]);
    expect(order([quick, slow], none)).toEqual(["b", "a"]);
    // The first aspect of all: what works for the need.
    const not = { works: false, appsRun: ["A"], appsNot: [], hardwareNot: [] };
    expect(order([way({ id: "a", fit: not }), way({ id: "b" })], [])).toEqual(["b", "a"]);
    const same = { id: "a" };
    expect(order([way({ id: "c" }), way(same), way({ id: "b" })], none)).toEqual(["a", "b", "c"]);
    expect(compareWays(way(same), way(same), DEFAULT_POLICY)).toBe(0);
  });

  test("a long chance goes behind a sure way, however new", () => {
    expect(order([way({ id: "risky", api: 36, success: 0.5 }), way({ id: "sure" })])).toEqual(["sure", "risky"]);
  });

  test("a device that is good enough is left as it is", () => {
    expect(order([way({ id: "rom", api: 34 }), way({ id: "keep", api: 31, keeps: true, enough: true })])).toEqual([
      "keep",
      "rom",
    ]);
  });

  test("what the policy leaves out still decides between equals", () => {
    expect(order([way({ id: "slow", handsOnMinutes: 40 }), way({ id: "quick" })], ["works"])).toEqual([
      "quick",
      "slow",
    ]);
  });
});

describe("dominance", () => {
  test("better in one and worse in none", () => {
    expect(dominates(way({ id: "a", wipes: 1 }), way({ id: "b" }))).toBe(true);
    expect(dominates(way({ id: "a" }), way({ id: "b" }))).toBe(false);
    expect(dominates(way({ id: "a", wipes: 1, bytes: 2e9 }), way({ id: "b" }))).toBe(false);
  });

  test("of equal ways one is kept", () => {
    expect(
      nonDominated([way({ id: "b" }), way({ id: "a" }), way({ id: "c", api: 34, bytes: 2e9 })], (w) => w.id).map(
        (w) => w.id,
      ),
    ).toEqual(["a", "c"]);
  });
});

describe("what runs for a need", () => {
  const model = makeModel({ id: "m", cpu: "arm64", hardware: ["calls", "camera"] });
  const system: RunningSystem = {
    api: 30,
    services: true,
    integrity: true,
    cpu: "arm64" as const,
    working: ["calls", "camera"],
    faults: [],
    broken: [],
  };
  const need = makeNeed({
    apps: [
      { name: "Bank", minApi: 30, services: true, integrity: true },
      { name: "Letters", minApi: 24 },
      { name: "Maps", minApi: 29, only64: true },
    ],
    hardware: ["calls"],
  });

  test.each([
    ["all of it", {}, []],
    ["an app above the release", { api: 29 }, ["Bank needs Android 11 · API 30"]],
    ["no services", { services: false }, ["Bank needs the services package"]],
    ["no integrity verdict", { integrity: false }, ["Bank needs a passing integrity verdict"]],
    ["32 bits only", { cpu: "arm" as const }, ["Maps needs a 64-bit system"]],
  ])("%s", (_name, change, missing) => {
    const fit = fitNeed({ ...system, ...change }, model, need);
    expect(fit.appsNot.map((a) => `${a.app} ${a.says}`)).toEqual(missing);
    expect(fit.works).toBe(missing.length === 0);
    expect(fit.appsRun.length + fit.appsNot.length).toBe(3);
  });

  test("hardware: broken by the image, broken on the device, or not there at all", () => {
    const broken = fitNeed(
      { ...system, working: ["camera"], faults: [{ hardware: "calls", says: "no sound" }] },
      model,
      need,
    );
    expect(broken.hardwareNot).toEqual([{ hardware: "calls", says: "no sound" }]);
    const itself: RunningSystem = { ...system, working: ["camera"], broken: ["calls"] };
    expect(fitNeed(itself, model, need).hardwareNot[0].says).toContain("broken on this device");
    // What an image says of it may be mended; what is broken is not.
    expect(
      fitNeed({ ...itself, faults: [{ hardware: "calls", says: "until set up" }] }, model, need).hardwareNot[0].says,
    ).toContain("broken on this device");
    expect(
      fitNeed(system, makeModel({ id: "t", hardware: ["wifi"] }), { ...need, hardware: ["nfc"] }).hardwareNot[0].says,
    ).toContain("has no NFC");
  });

  test("a phone for a group that waits for tablets", () => {
    expect(fitNeed(system, model, makeNeed({ forms: ["tablet"] })).works).toBe(false);
  });

  test("faults count on the models they were seen on, and only for hardware that is there", () => {
    const image = makeImage(
      {
        id: "i",
        kind: "rom",
        installs: "packages",
        models: ["m", "n"],
        faults: [
          { hardware: "camera", models: ["n"], says: "it stops" },
          { hardware: "calls", says: "no sound" },
          { hardware: "nfc", says: "never works" },
        ],
      },
      33,
    );
    expect(faultsOn(image, model).map((f) => f.hardware)).toEqual(["calls"]);
  });
});
