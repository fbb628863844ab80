import fc from "fast-check";
import validator from "validator";
import { type Fact, readFactValue } from "./fact";
import { imeiCheckDigit, maskNumber, readImei } from "./imei";
import { currentFacts, lookUp } from "./lookUp";
import { readReadOut } from "./readOut";
import { endsApart } from "./serial";

describe("IMEI", () => {
  // Published: 3GPP TS 23.003, Annex B. The number is the widely printed example 490154203237518 (from memory).
  test("check digit of the printed example", () => {
    expect(imeiCheckDigit("49015420323751")).toBe(8);
    expect(readImei("49-015420-323751-8")).toEqual({ ok: true, imei: "490154203237518", tac: "49015420" });
  });

  // From outside: validator's isIMEI (npm).
  test("agrees with validator on any fifteen digits", () => {
    fc.assert(
      fc.property(fc.stringMatching(/^\d{15}$/), (digits) => {
        expect(readImei(digits).ok).toBe(validator.isIMEI(digits));
      }),
      { numRuns: 500 },
    );
  });

  test("says which digit was expected", () => {
    expect(readImei("490154203237515")).toMatchObject({
      ok: false,
      says: expect.stringContaining("should be 8, not 5"),
    });
    expect(readImei("4901542032375")).toMatchObject({
      ok: false,
      says: expect.stringContaining("15 digits; this has 13"),
    });
    expect(maskNumber("490154203237518")).toBe("…7518");
  });
});

describe("facts", () => {
  const fact = (value: string, source: Fact["source"], at: string): Fact => ({
    key: "android.release",
    value,
    source,
    at,
    by: "x",
  });

  test("the newest from the best source stands", () => {
    const read = fact("11", "read", "2026-01-02T00:00:00Z");
    const typed = fact("10", "typed", "2026-01-03T00:00:00Z");
    const sameWord = { ...typed, value: "11" };
    expect(lookUp(currentFacts([read, sameWord]), "android.release")).toMatchObject({ value: "11", fact: read });
    const earlier = { ...typed, at: "2026-01-01T00:00:00Z" };
    expect(lookUp(currentFacts([read, earlier]), "android.release")).toMatchObject({ value: "11", fact: read });
    const later = fact("12", "read", "2026-01-04T00:00:00Z");
    expect(lookUp(currentFacts([later, read, typed]), "android.release")).toMatchObject({ value: "12" });
  });

  test("a newer word against an older reading is a contradiction: unknown until it is read again", () => {
    const read = fact("11", "read", "2026-01-02T00:00:00Z");
    const typed = fact("10", "typed", "2026-01-03T00:00:00Z");
    const facts = currentFacts([read, typed]);
    expect(lookUp(facts, "android.release")).toEqual({ isUnknown: true });
    expect(facts.get("android.release")).toMatchObject({ value: "11", contradictedBy: typed });
    const again = fact("10", "read", "2026-01-04T00:00:00Z");
    expect(lookUp(currentFacts([read, typed, again]), "android.release")).toMatchObject({ value: "10" });
  });

  test("what changes by itself is news, not a contradiction", () => {
    const level = (value: number, source: Fact["source"], at: string): Fact => ({
      key: "battery.percent",
      value,
      source,
      at,
      by: "x",
    });
    const facts = currentFacts([level(40, "read", "2026-01-02T00:00:00Z"), level(90, "typed", "2026-01-03T00:00:00Z")]);
    expect(lookUp(facts, "battery.percent")).toMatchObject({ value: 90 });
  });

  test("what a sheet promised is no measurement", () => {
    const read = fact("10", "read", "2026-01-02T00:00:00Z");
    const promised = fact("14", "run", "2026-01-03T00:00:00Z");
    // The step changed the device: the reading before it is over, one made with it or behind it stands.
    expect(lookUp(currentFacts([read, promised]), "android.release")).toMatchObject({ value: "14" });
    const measured = fact("13", "read", "2026-01-03T00:00:00Z");
    expect(lookUp(currentFacts([promised, measured]), "android.release")).toMatchObject({ value: "13" });
    // A person who looks afterwards knows better than the sheet.
    const seen = fact("12", "typed", "2026-01-05T00:00:00Z");
    expect(lookUp(currentFacts([read, promised, seen]), "android.release")).toMatchObject({ value: "12" });
  });

  test("what does not hold any more is unknown, whatever was known before", () => {
    const read = fact("10", "read", "2026-01-02T00:00:00Z");
    const open = { ...fact("", "run", "2026-01-03T00:00:00Z"), value: null };
    expect(lookUp(currentFacts([read, open]), "android.release")).toEqual({ isUnknown: true });
    const again = fact("11", "read", "2026-01-04T00:00:00Z");
    expect(lookUp(currentFacts([read, open, again]), "android.release")).toMatchObject({ value: "11" });
  });

  test("what is not known is unknown, never a default", () => {
    expect(lookUp(currentFacts([]), "bootloader.locked")).toEqual({ isUnknown: true });
  });

  test("typed values are checked and turned into their kind", () => {
    expect(readFactValue("bootloader.locked", "yes")).toEqual({ ok: true, value: true });
    expect(readFactValue("battery.percent", "71")).toEqual({ ok: true, value: 71 });
    expect(readFactValue("battery.percent", "171").ok).toBe(false);
    expect(readFactValue("android.release", "eleven")).toMatchObject({
      ok: false,
      says: expect.stringContaining("Android version"),
    });
    expect(readFactValue("build.patch", "5.8.2023").ok).toBe(false);
  });
});

describe("read-outs", () => {
  test("getprop with prompts, daemon chatter and Windows line ends", () => {
    const text = [
      "C:\\> adb shell getprop",
      "* daemon not running; starting now at tcp:5037",
      "[ro.product.model]: [VK-V201]",
      "[ro.product.device]: [vesper]",
      "[ro.build.version.release]: [10]",
      "[ro.build.display.id]: [VK10-QZ9A.200705.002]",
      "[ro.build.version.security_patch]: [2020-07-05]",
      "[ro.boot.slot_suffix]: [_a]",
      "[ro.treble.enabled]: [true]",
      "[ro.product.cpu.abi]: [arm64-v8a]",
      "[ro.serialno]: [VKA1000101]",
      "[gsm.version.baseband]: [V20-10.1,V20-10.1]",
      "[ro.boot.flash.locked]: [1]",
      "[ro.odd]: []",
    ].join("\r\n");
    const read = readReadOut(text);
    expect(read).toMatchObject({ kind: "getprop", serial: "VKA1000101", problems: [] });
    expect(Object.fromEntries(read.facts)).toEqual({
      "model.number": "VK-V201",
      "model.codename": "vesper",
      "android.release": "10",
      "build.number": "VK10-QZ9A.200705.002",
      "build.patch": "2020-07-05",
      "slot.current": "a",
      "treble.supported": true,
      "cpu.arch": "arm64",
      "firmware.version": "V20-10.1",
      "bootloader.locked": true,
    });
  });

  test("the kernel's bits, and the root folder only where the property says something", () => {
    const facts = (text: string) => Object.fromEntries(readReadOut(text).facts);
    expect(facts("$ adb shell uname -m\naarch64\n")).toEqual({ "kernel.binder": "64" });
    // A 32-bit kernel leaves the binder open.
    expect(facts("armv7l")).toEqual({});
    const root = (value: string, release: string) =>
      facts(`[ro.build.system_root_image]: [${value}]\n[ro.build.version.release]: [${release}]`)["system.as-root"];
    expect(root("true", "9")).toBe(true);
    expect(root("false", "9")).toBe(false);
    expect(root("false", "11")).toBeUndefined();
  });

  test("getvar all as the bootloader prints it", () => {
    const read = readReadOut(
      "(bootloader) product:vesper\n(bootloader) unlocked:no\n(bootloader) slot-count:2\n(bootloader) current-slot:b\n(bootloader) partition-size:system_b:0x100000\n(bootloader) serialno:VKA1\nall: \nFinished. Total time: 0.010s\n",
    );
    expect(read.kind).toBe("getvar");
    expect(read.serial).toBe("VKA1");
    expect(Object.fromEntries(read.facts)).toEqual({
      "model.codename": "vesper",
      "bootloader.locked": true,
      "slots.count": 2,
      "slot.current": "b",
      "room.system": 1_048_576,
    });
  });

  test("a value that is no value is told, not taken", () => {
    const read = readReadOut("[ro.build.version.release]: [REL]\n[ro.product.model]: [X1]");
    expect(read.problems[0]).toContain("REL");
    expect(read.facts.has("android.release")).toBe(false);
  });

  test("any text gives a result", () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 2000 }), (text) => expect(readReadOut(text).facts).toBeInstanceOf(Map)),
    );
    expect(readReadOut("[constructor]: [x]\n[__proto__]: [y]\n(bootloader) toString:z").facts.size).toBe(0);
  });
});

test("of two numbers as much of the end as tells them apart, four characters at least", () => {
  expect(endsApart("BTS4000121", "BTS0000121")).toEqual(["4000121", "0000121"]);
  expect(endsApart("BTS4000121", "BTS4000122")).toEqual(["0121", "0122"]);
  expect(endsApart("0121", "X0121")).toEqual(["0121", "X0121"]);
});
