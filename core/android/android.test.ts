import { getAll } from "android-versions";
import fc from "fast-check";
import { compareBuildNumbers, parseBuildNumber } from "./buildNumber";
import { compareFirmware, firmwareInRange } from "./firmwareVersion";
import { apiOf, describeRelease, isRelease, NEWEST_API, RELEASES, releaseOf } from "./releases";

describe("releases and API levels", () => {
  // From outside: the android-versions package (npm), an independent table of the platform's API levels.
  test("every level from 1 to 37 agrees with the android-versions package", () => {
    const outside = new Map(getAll(() => true)?.map((v) => [v.api, v.semver]) ?? []);
    expect(RELEASES.map((r) => r.api)).toEqual(Array.from({ length: 37 }, (_, i) => i + 1));
    for (const { api, release } of RELEASES) {
      const theirs = outside.get(api);
      expect(theirs).toBeDefined();
      // The package writes three numbers where Settings shows one or two, and 12 for 12L.
      const short = String(theirs).replace(/(\.0)+$/, "");
      const ours = release.replace(/[WL]$/, "").replace(/(\.0)+$/, "");
      expect({ api, short: short.startsWith(ours) || ours.startsWith(short) }).toEqual({ api, short: true });
    }
    expect(NEWEST_API).toBe(37);
  });

  test("people's ways of writing a release", () => {
    expect(apiOf("11")).toBe(30);
    expect(apiOf("Android 8.1.0")).toBe(27);
    expect(apiOf("4.4.4")).toBe(19);
    expect(apiOf("12L")).toBe(32);
    expect(apiOf("6")).toBe(23);
    expect(apiOf("7.1.2")).toBe(25);
    expect(apiOf("")).toBeNull();
    expect(apiOf("eleven")).toBeNull();
    expect(apiOf("99")).toBeNull();
    expect(apiOf("11.0.0")).toBe(30);
    expect(apiOf("6.0.1")).toBe(23);
    expect(apiOf("12.1")).toBe(32);
  });

  test("a patch digit counts where it began a level of its own", () => {
    expect([apiOf("2.3.2"), apiOf("2.3.6"), apiOf("4.0.2"), apiOf("4.0.4")]).toEqual([9, 10, 14, 15]);
  });

  // A maker's version of its own surface stands in many a list where the Android version should.
  test.each([
    "10.5",
    "7.5",
    "9.1",
    "11.2",
    "13.1",
    "8.1.5",
    "4.5",
    "6.1",
    "12.1.1",
    "11.0.0.3",
    "1.0.1x",
    "0",
    "5.1.12",
  ])("%s is no release", (text) => expect(isRelease(text)).toBe(false));

  test("every release, and every patch of one, is one", () => {
    const written = [
      ...RELEASES.map((r) => r.release),
      "4.4.4",
      "5.1.1",
      "7.1.2",
      "8.1.0",
      "11.0",
      "Android 9",
      "12.1",
    ];
    expect(written.filter((text) => !isRelease(text))).toEqual([]);
  });

  test("a release is told the same way wherever it is written", () => {
    expect(describeRelease(33)).toBe("Android 13 · API 33");
  });

  test("release and level lead back to one another", () => {
    for (const { api, release } of RELEASES) {
      expect(releaseOf(api)).toBe(release);
      expect(apiOf(release)).toBe(api);
    }
  });

  // AOSP build numbers: one letter per release up to 14 (… Q 10, R 11, S 12, T 13, U 14).
  test.each([
    ["Q", "10"],
    ["R", "11"],
    ["S", "12"],
    ["T", "13"],
    ["U", "14"],
  ])("letter %s is Android %s", (letter, release) => {
    expect(RELEASES.find((r) => r.release === release)?.letter).toBe(letter);
  });
});

describe("build numbers", () => {
  // Shape published in AOSP "Codenames, tags, and build numbers"; these two numbers are its kind of example.
  test("the dated and the quartered shape", () => {
    expect(parseBuildNumber("TQ3A.230805.001.A1")).toEqual({
      text: "TQ3A.230805.001.A1",
      letter: "T",
      branch: "Q3A",
      date: "230805",
      number: "001A1",
    });
    expect(parseBuildNumber("KTU84P")).toMatchObject({ letter: "K", branch: "TU", date: "U84", number: "P" });
    expect(parseBuildNumber("VK12-SQ3A.220705.003")?.letter).toBe("S");
    expect(parseBuildNumber("hello")).toBeNull();
  });

  test("what is newer, and what can't be told", () => {
    expect(compareBuildNumbers("TQ1A.230105.001", "TQ1A.230205.001")).toBeLessThan(0);
    expect(compareBuildNumbers("UP1A.231005.007", "TQ3A.230805.001")).toBeGreaterThan(0);
    expect(compareBuildNumbers("same text", "same text")).toBe(0);
    expect(compareBuildNumbers("our-build-1", "our-build-2")).toBeNull();
  });

  test("comparing is antisymmetric, whatever stands there", () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (a, b) => {
        const x = compareBuildNumbers(a, b);
        const y = compareBuildNumbers(b, a);
        expect(x === null ? y : Math.sign(x) + Math.sign(y as number)).toBe(x === null ? null : 0);
      }),
    );
  });
});

describe("firmware versions within a model", () => {
  test("the model's own order comes first", () => {
    expect(compareFirmware(["b", "a"], "b", "a")).toBeLessThan(0);
  });
  test("numbers are compared as numbers, letters not at all", () => {
    expect(compareFirmware([], "4.9.2", "4.10.0")).toBeLessThan(0);
    expect(compareFirmware([], "4.9", "4.9.0")).toBe(0);
    expect(compareFirmware([], "4.x", "4.y")).toBeNull();
  });
  test("a range has both its ends", () => {
    const order = ["1", "2", "3", "4"];
    expect(order.map((v) => firmwareInRange(order, v, { from: "2", to: "3" }))).toEqual([false, true, true, false]);
    expect(firmwareInRange(order, "odd", { from: "2", to: "3" })).toBeNull();
  });
});
