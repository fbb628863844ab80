import { demoCatalogue } from "~/demo/catalogue";
import { makeFacts } from "~/testing/catalogueEntries";
import { firmwareDangerous, reportOf, startSystem, whyNotStarting, wipeData, writePartition } from "./boot";
import { answer } from "./bootloader/fastboot";
import { phoneFromCatalogue } from "./fromCatalogue";
import { installPackage } from "./recovery/packages";
import type { Content, PhoneState } from "./state";

const catalogue = demoCatalogue();

function phone(model: string, facts: Parameters<typeof makeFacts>[0] = {}): PhoneState {
  const found = catalogue.models.find((m) => m.id === model);
  if (!found) throw new Error(model);
  return phoneFromCatalogue({
    tag: "T",
    serial: "S",
    model: found,
    facts: makeFacts({ "android.release": "10", "build.number": "B", "slot.current": "a", ...facts }),
    images: catalogue.images,
  });
}

const tablet = () => ({ ...phone("brisk-slate10"), locked: false });

/** Content like that of the boot partition, with some of it changed. */
const content = (state: PhoneState, over: Partial<Content>): Content => ({
  ...(state.partitions.boot_a ?? state.partitions.boot ?? ({} as Content)),
  ...over,
});

const gsi = (state: PhoneState) =>
  content(state, { image: "g", kind: "gsi", release: "14", api: 34, build: null, cpu: "arm64" });

// Common practice, no source: what keeps a phone from starting, one line each.
const CASES: readonly (readonly [string, (s: PhoneState) => void, string | null])[] = [
  ["as donated", () => undefined, null],
  [
    "nothing on the system partition",
    (s) => {
      s.partitions.system_a = null;
    },
    "no system",
  ],
  [
    "nothing on the boot partition",
    (s) => {
      s.partitions.boot_a = null;
    },
    "no boot image",
  ],
  [
    "boot erased",
    (s) => {
      s.mode = "bootloader";
      answer(s, "erase:boot_a", null);
    },
    "no boot image",
  ],
  [
    "the verification partition erased",
    (s) => {
      s.mode = "bootloader";
      answer(s, "erase:vbmeta_a", null);
    },
    "verification partition is empty",
  ],
  [
    "dtbo of another build",
    (s) => {
      s.partitions.dtbo_a = content(s, { build: "other" });
    },
    "dtbo is of another build",
  ],
  [
    "boot of another model",
    (s) => {
      s.partitions.boot_a = content(s, { devices: ["somebody-else"] });
    },
    "boot is of another model",
  ],
  [
    "vendor_boot of another model",
    (s) => {
      s.partitions.vendor_boot_a = content(s, { devices: ["somebody-else"] });
    },
    "vendor_boot is of another model",
  ],
  [
    "product of another build left under a generic image",
    (s) => {
      s.partitions.system_a = gsi(s);
      s.partitions.vbmeta_a = content(s, { verificationOff: true });
      s.partitions.product_a = content(s, { build: "other" });
      s.data = null;
      s.metadata = null;
    },
    "product was left from another build",
  ],
  [
    "data erased, and the old system's keys left in metadata",
    (s) => {
      s.partitions.system_a = gsi(s);
      s.partitions.vbmeta_a = content(s, { verificationOff: true });
      s.mode = "bootloader";
      answer(s, "erase:userdata", null);
    },
    "erase metadata too",
  ],
  [
    "data and metadata erased",
    (s) => {
      s.partitions.system_a = gsi(s);
      s.partitions.vbmeta_a = content(s, { verificationOff: true });
      s.mode = "bootloader";
      answer(s, "erase:userdata", null);
      answer(s, "erase:metadata", null);
    },
    null,
  ],
  [
    "the other slot, which is empty",
    (s) => {
      s.slot = "b";
      s.partitions.system_b = null;
    },
    "no system",
  ],
  [
    "boot of another build",
    (s) => {
      s.partitions.boot_a = content(s, { build: "other" });
    },
    "different builds",
  ],
  [
    "verification file of another build",
    (s) => {
      s.partitions.vbmeta_a = content(s, { build: "other" });
    },
    "another build",
  ],
  [
    "product removed under the maker's system",
    (s) => {
      delete s.logicalSizes.product_a;
    },
    "product partition is gone",
  ],
  [
    "a generic image with verification on",
    (s) => {
      s.partitions.system_a = gsi(s);
      s.data = null;
    },
    "verification is on",
  ],
  [
    "a generic image with verification off",
    (s) => {
      s.partitions.system_a = gsi(s);
      s.partitions.vbmeta_a = content(s, { verificationOff: true });
      s.data = null;
      s.metadata = null;
    },
    null,
  ],
  [
    "a generic image over old data",
    (s) => {
      s.partitions.system_a = gsi(s);
      s.partitions.vbmeta_a = content(s, { verificationOff: true });
    },
    "must be formatted",
  ],
  [
    "a generic image without a vendor interface",
    (s) => {
      s.partitions.system_a = gsi(s);
      s.treble = false;
    },
    "no vendor interface",
  ],
  [
    "a generic image for another processor",
    (s) => {
      s.partitions.system_a = { ...gsi(s), cpu: "arm" };
    },
    "another processor",
  ],
  [
    "a generic image older than the vendor part",
    (s) => {
      s.partitions.system_a = { ...gsi(s), api: 28 };
      s.partitions.vbmeta_a = content(s, { verificationOff: true });
      s.data = null;
    },
    "older than the vendor part",
  ],
  [
    "a ROM with the maker's boot image",
    (s) => {
      s.partitions.system_a = content(s, { image: "r", kind: "rom" });
    },
    "do not belong together",
  ],
  [
    "a system that was spoiled",
    (s) => {
      s.partitions.system_a = content(s, { spoiled: "it crashes" });
    },
    "it crashes",
  ],
  [
    "locked with a ROM on it",
    (s) => {
      s.locked = true;
      s.partitions.system_a = content(s, { image: "r", kind: "rom" });
    },
    "bootloader is locked",
  ],
  [
    "a dead board",
    (s) => {
      s.alive = false;
    },
    "dead",
  ],
];

test.each(CASES)("%s", (_name, change, why) => {
  const state = tablet();
  change(state);
  const said = whyNotStarting(state);
  if (why === null) expect(said).toBeNull();
  else expect(said).toContain(why);
  startSystem(state);
  expect(reportOf(state).boots).toBe(why === null);
});

test("a wipe leaves the keys of the old system, a format does not", () => {
  const state = tablet();
  state.accounts = false;
  wipeData(state, false);
  expect(state.data).toMatchObject({ kind: "stock", donor: false });
  wipeData(state, true);
  expect(state.data).toBeNull();
  expect(reportOf(state)).toMatchObject({ wipes: 2, storage: "clean", accountLock: false });
});

test("firmware in the dangerous range kills under foreign writes, never under the maker's", () => {
  const state = { ...phone("quillon-q3", { "firmware.version": "Q3-1.6" }), locked: false };
  expect(firmwareDangerous(state)).toBe(true);
  expect(writePartition(state, "boot", content(state, { kind: "stock" }))).toBeNull();
  expect(state.alive).toBe(true);
  expect(writePartition(state, "recovery", content(state, { kind: "recovery" }))).toContain("failure");
  expect(state.alive).toBe(false);
});

test("older radio firmware is refused", () => {
  const state = { ...phone("velkora-vista20", { "firmware.version": "V20-12.4" }), locked: false };
  expect(writePartition(state, "radio_a", content(state, { firmware: "V20-10.1" }))).toContain("Anti-rollback");
  expect(state.firmware).toBe("V20-12.4");
});

describe("packages in a recovery", () => {
  const lume = () => ({ ...phone("velkora-lume", { "firmware.version": "L8-2.1" }), locked: false });
  const recovery = (state: PhoneState, version = "3.7") =>
    content(state, { image: "rec", kind: "recovery", flavour: "custom", version });
  const rom = (state: PhoneState, over: Partial<Content> = {}) =>
    content(state, {
      image: "rom",
      kind: "rom",
      installs: "packages",
      devices: ["lumen"],
      release: "12",
      api: 31,
      recoveryVersion: "3.0",
      firmwareFrom: "L8-2.1",
      size: 4096,
      ...over,
    });

  test.each([
    ["it suits", {}, "3.7", null],
    ["another device", { devices: ["vesper"] }, "3.7", "Error 7"],
    ["a recovery that is too old", {}, "2.8.7", "too old"],
    ["firmware that is too old", { firmwareFrom: "L8-9.9" }, "3.7", "Error 7"],
    ["no room", { size: 9_000_000_000 }, "3.7", "not enough room"],
  ])("%s", (_name, over, version, refused) => {
    const state = lume();
    const said = installPackage(state, rom(state, over), recovery(state, version));
    if (refused === null) expect(said).toBeNull();
    else expect(said).toContain(refused);
  });

  test("services go on before the first start, or spoil the system", () => {
    const state = lume();
    const add = content(state, { image: "add", kind: "services", release: "12", cpu: "arm64", devices: [] });
    expect(installPackage(state, { ...add, release: "11" }, recovery(state))).toContain("Error 20");
    installPackage(state, rom(state), recovery(state));
    expect(installPackage(state, { ...add, cpu: "arm" }, recovery(state))).toContain("Error 64");
    expect(installPackage(state, add, recovery(state))).toBeNull();
    wipeData(state, true);
    startSystem(state);
    expect(reportOf(state)).toMatchObject({ boots: true, release: "12", services: true });
    installPackage(state, add, recovery(state));
    expect(whyNotStarting(state)).toContain("after the first start");
  });
});
