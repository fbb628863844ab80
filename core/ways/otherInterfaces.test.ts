import type { ImageSituation, Rule } from "~/core/upgrade/rule";
import { askRule, type RuleCase } from "~/testing/askRule";
import * as download from "./download-mode/rules";
import * as loader from "./loader-board/rules";
import * as makerScript from "./maker-script/rules";
import { isNoPort, isPort, portBase } from "./port/rules";
import { fuseFits, modelNumberFits, regionFits, writtenBy } from "./stock-package/rules";

// Rules of the ways that do not speak fastboot, and of the maker's package in its other forms: each both ways, and open.

const file = (name: string, slot: string | null, partition: string | null = null) => ({
  name,
  slot,
  partition,
  bytes: 1000,
});
const DOWNLOAD = { flash: "download-mode", download: { edition: "five-slots", enter: "hold both" } };
const FOUR = { ...DOWNLOAD, download: { ...DOWNLOAD.download, edition: "four-slots" } };
const tars = (...slots: string[]) => slots.map((s) => file(`${s}.tar.md5`, s));
const rows = (...names: string[]) => names.map((n) => file(`${n}.img`, null, n));
const stock = (image: object, more: Partial<RuleCase> = {}): RuleCase => ({
  kind: "stock",
  image: { installs: null, firmware: "F3", ...image },
  ...more,
});
const recovery = (image: object, more: Partial<RuleCase> = {}): RuleCase => ({
  kind: "recovery",
  image: { installs: null, flavour: "custom", files: tars("system", "data"), ...image },
  model: DOWNLOAD,
  ...more,
});
const LIST = `FIRMWARE_VER:9
CMDLINE:mtdparts=x:0x2000@0x2000(uboot),0x2000@0x4000(boot),0x4000@0x6000(system),-@0xA000(userdata)`;
const BOARD = { flash: "loader", loader: { chip: "Tarn rev B", button: "behind the socket", list: LIST } };
const port = (base: string | null) => ({
  port: { name: "Vista", modelNumber: "V-1", codename: "vista", base },
  files: [file("a.zip", null), file("b.zip", null)],
});
const script = (text: string, ...names: string[]): RuleCase =>
  stock({ writtenBy: "script", script: text, files: rows(...names) });
const chip = (value: string) => ({ "board.chip": value });

const TABLE: readonly (readonly [string, Rule<ImageSituation>, RuleCase, string])[] = [
  ["written as it is packed", writtenBy("parts"), stock({ files: rows("boot", "system") }), "holds"],
  ["tars are no parts", writtenBy("parts"), stock({ writtenBy: "flasher", files: tars("system") }), "stock.other-form"],
  ["no region named", regionFits, stock({}), "holds"],
  ["its own region", regionFits, stock({ regions: ["nrd"] }, { facts: { "device.region": "NRD" } }), "holds"],
  [
    "another region",
    regionFits,
    stock({ regions: ["STH"] }, { facts: { "device.region": "N" } }),
    "stock.other-region",
  ],
  ["a region that nobody read", regionFits, stock({ regions: ["STH"] }), "? device.region"],
  ["its own number", modelNumberFits, stock({ modelNumbers: ["N-m"] }), "holds"],
  ["another number of the model", modelNumberFits, stock({ modelNumbers: ["N-x"] }), "stock.other-number"],
  [
    "a number that nobody read, where the model has two",
    modelNumberFits,
    stock({ modelNumbers: ["A"] }, { model: { modelNumbers: ["A", "B"] }, facts: { "model.number": null } }),
    "? model.number",
  ],
  [
    "a model with one number has told it",
    modelNumberFits,
    stock({ modelNumbers: ["N-m"] }, { facts: { "model.number": null } }),
    "holds",
  ],
  ["the same fuse level", fuseFits, stock({ fuse: 3 }, { facts: { "fuse.level": 3 } }), "holds"],
  ["a lower one", fuseFits, stock({ fuse: 2 }, { facts: { "fuse.level": 3 } }), "firmware.fuse"],
  ["a level that nobody read", fuseFits, stock({ fuse: 2 }), "? fuse.level"],
  ["a package of unknown level", fuseFits, stock({}, { facts: { "fuse.level": 1 } }), "firmware.fuse"],
  ["download mode on record", download.downloadRecorded, { model: DOWNLOAD }, "holds"],
  ["nothing on record", download.downloadRecorded, { model: { flash: "download-mode" } }, "download.not-recorded"],
  ["a slot for each", download.slotsForAll, recovery({}), "holds"],
  ["the older edition has no extra slot", download.slotsForAll, recovery({}, { model: FOUR }), "download.no-slot"],
  ["recovery and verification file", download.bringsVerification, recovery({}), "holds"],
  ["a recovery alone", download.bringsVerification, recovery({ files: tars("system") }), "download.no-verification"],
  ["its file is of the installed build", download.verificationOfBuild, recovery({ build: "B1" }), "holds"],
  ["of another build", download.verificationOfBuild, recovery({ build: "B2" }), "download.other-build"],
  [
    "of a build that nobody read",
    download.verificationOfBuild,
    recovery({ build: "B1" }, { facts: { "build.number": null } }),
    "? build.number",
  ],
  [
    "the wiping edition",
    download.hasWipeEdition,
    stock({ writtenBy: "flasher", files: tars("system", "region-wipe") }),
    "holds",
  ],
  [
    "only the keeping edition",
    download.hasWipeEdition,
    stock({ writtenBy: "flasher", files: tars("system", "region-keep") }),
    "download.wipe-edition",
  ],
  ["the maker's system under it", download.stockUnder, recovery({}), "holds"],
  ["a ROM under it", download.stockUnder, recovery({}, { state: { system: "custom" } }), "gsi.needs-stock-base"],
  [
    "a custom recovery, verification off",
    download.recoveryWritesImages,
    recovery({}, { state: { recovery: "i", verification: "off" } }),
    "holds",
  ],
  [
    "verification on",
    download.recoveryWritesImages,
    recovery({}, { state: { recovery: "i", verification: "on" } }),
    "verification.missing",
  ],
  [
    "the maker's recovery",
    download.recoveryWritesImages,
    recovery({}, { state: { recovery: "stock", verification: "off" } }),
    "recovery.missing",
  ],
  ["a board on record", loader.loaderRecorded, { model: BOARD }, "holds"],
  ["no board on record", loader.loaderRecorded, { model: { flash: "loader" } }, "loader.not-recorded"],
  ["its chip, in other letters", loader.chipIsThis, { model: BOARD, facts: chip("tarn REV b") }, "holds"],
  ["another chip in the box", loader.chipIsThis, { model: BOARD, facts: chip("Tarn rev A") }, "loader.other-chip"],
  ["a chip that nobody read", loader.chipIsThis, { model: BOARD }, "? board.chip"],
  [
    "a package for another chip",
    loader.madeForChip,
    stock({ writtenBy: "rows", chip: "Tarn rev A" }, { model: BOARD, facts: chip("Tarn rev B") }),
    "loader.other-chip",
  ],
  ["a row for each file", loader.rowsForAll, stock({ files: rows("boot", "system") }, { model: BOARD }), "holds"],
  [
    "a file without a row",
    loader.rowsForAll,
    stock({ files: rows("boot", "vendor") }, { model: BOARD }),
    "loader.no-row",
  ],
  ["dumped while it worked", loader.wasDumped, { facts: { "board.dumped": true } }, "holds"],
  ["never dumped", loader.wasDumped, {}, "loader.not-dumped"],
  ["read as not dumped", loader.wasDumped, { facts: { "board.dumped": false } }, "loader.not-dumped"],
  ["a script that is understood", makerScript.isUnderstood, script("fastboot flash boot x/boot.img", "boot"), "holds"],
  [
    "a command that nobody knows",
    makerScript.isUnderstood,
    script("fastboot flash boot boot.img\nfastboot oem nuke", "boot"),
    "script.unknown",
  ],
  [
    "a program that is no client",
    makerScript.isUnderstood,
    script("fastboot flash boot boot.img\ndd if=/dev/zero", "boot"),
    "script.unknown",
  ],
  ["a script that writes nothing", makerScript.isUnderstood, script("fastboot reboot", "boot"), "script.unknown"],
  [
    "it locks behind itself",
    makerScript.doesNotLock,
    script("fastboot flash boot boot.img\nfastboot flashing lock", "boot"),
    "script.locks",
  ],
  ["it does not lock", makerScript.doesNotLock, script("fastboot flash boot boot.img", "boot"), "holds"],
  ["a file that is not there", makerScript.hasItsFiles, script("fastboot flash radio r.img", "boot"), "script.no-file"],
  ["a port", isPort, { image: port("B1") }, "holds"],
  ["no port", isPort, {}, "port.other-way"],
  ["a port is no ordinary ROM", isNoPort, { image: port("B1") }, "port.other-way"],
  ["exactly its base", portBase, { image: port("B1") }, "holds"],
  ["another base", portBase, { image: port("B2") }, "port.other-base"],
  [
    "its base, but a ROM runs on it",
    portBase,
    { image: port("B1"), state: { system: "custom", baseBuild: "B1" } },
    "port.other-base",
  ],
  ["no base, not encrypted", portBase, { image: port(null), facts: { "storage.encrypted": false } }, "holds"],
  ["no base, encrypted", portBase, { image: port(null), facts: { "storage.encrypted": true } }, "port.encrypted"],
  ["no base, nobody looked", portBase, { image: port(null) }, "? storage.encrypted"],
];

test.each(TABLE)("%s", (_name, rule, given, expected) => {
  expect(askRule(rule, given)).toBe(expected);
});
