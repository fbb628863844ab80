import type { ImageSituation, Rule } from "~/core/upgrade/rule";
import { askRule, type RuleCase, recovery, rom } from "~/testing/askRule";
import * as common from "./common/rules";
import * as genericImage from "./generic-image/rules";
import * as locking from "./locking/rules";
import * as officialUpdate from "./official-update/rules";
import * as recoveryPackages from "./recovery-packages/rules";
import * as stockPackage from "./stock-package/rules";
import * as unlocking from "./unlocking/rules";

const rules = {
  ...common,
  ...genericImage,
  ...locking,
  ...officialUpdate,
  ...recoveryPackages,
  ...stockPackage,
  ...unlocking,
};

const DANGER = {
  firmware: { order: ["F1", "F2", "F3"], dangerous: [{ from: "F2", to: "F2", says: "kills", safe: "F3" }] },
};
/** One that leads past its killing range only by a later base. */
const FAR = {
  firmware: { order: ["F1", "F2", "F3", "F4"], dangerous: [{ from: "F2", to: "F2", says: "kills", safe: "F4" }] },
};

const TABLE: readonly (readonly [string, Rule<ImageSituation>, RuleCase, string])[] = [
  ["image of this board", rules.suitsModel, {}, "holds"],
  ["image of another board", rules.suitsModel, { image: { models: ["n"] }, others: [] }, "image.other-model"],
  ["wrong processor by the model", rules.suitsModel, { kind: "gsi", image: { models: [], cpu: "arm" } }, "image.cpu"],
  [
    "a read processor outweighs the model",
    rules.suitsModel,
    { kind: "gsi", image: { models: [], cpu: "arm" }, facts: { "cpu.arch": "arm" } },
    "holds",
  ],
  [
    "withdrawn",
    rules.notWithdrawn,
    { image: { withdrawn: { on: "2025-01-01", says: "bad", successor: null } } },
    "image.withdrawn",
  ],

  ["safe firmware", rules.firmwareSafe, {}, "holds"],
  ["firmware that kills boards", rules.firmwareSafe, { model: DANGER }, "firmware.dangerous"],
  [
    "firmware not known, and some is dangerous",
    rules.firmwareSafe,
    { model: DANGER, facts: { "firmware.version": null } },
    "? firmware.version",
  ],
  ["firmware not known, none is dangerous", rules.firmwareSafe, { facts: { "firmware.version": null } }, "holds"],
  ["brings newer firmware", rules.noRollback, { image: { firmware: "F3" } }, "holds"],
  ["brings older firmware", rules.noRollback, { image: { firmware: "F1" } }, "firmware.rollback"],
  [
    "brings dangerous firmware",
    rules.bringsNoDanger,
    { model: DANGER, image: { firmware: "F2" }, facts: { "firmware.version": "F1" } },
    "firmware.dangerous",
  ],
  ["brings firmware that can't be compared", rules.noRollback, { image: { firmware: "X-odd" } }, "? firmware.version"],
  [
    "off killing firmware, not to the safe base",
    rules.noRollback,
    { model: FAR, image: { firmware: "F3" } },
    "firmware.dangerous",
  ],
  ["off killing firmware to the safe base", rules.noRollback, { model: FAR, image: { firmware: "F4" } }, "holds"],
  [
    "past killing firmware that is not installed",
    rules.noRollback,
    { model: FAR, image: { firmware: "F3" }, facts: { "firmware.version": "F1" } },
    "holds",
  ],
  [
    "off killing firmware, the safe base can't be compared",
    rules.noRollback,
    {
      model: { firmware: { ...FAR.firmware, dangerous: [{ ...FAR.firmware.dangerous[0], safe: "X-odd" }] } },
      image: { firmware: "F4" },
    },
    "? firmware.version",
  ],
  [
    "brings no firmware where some kills",
    rules.bringsNoDanger,
    { model: DANGER, facts: { "firmware.version": null } },
    "holds",
  ],
  ["the very firmware it asks for at most", rules.firmwareFits, { image: { needs: { firmwareTo: "F2" } } }, "holds"],
  ["the very firmware it asks for at least", rules.firmwareFits, { image: { needs: { firmwareFrom: "F2" } } }, "holds"],
  ["no firmware asked for, none known", rules.firmwareFits, { facts: { "firmware.version": null } }, "holds"],
  [
    "firmware at most that can't be compared",
    rules.firmwareFits,
    { image: { needs: { firmwareTo: "X-odd" } } },
    "? firmware.version",
  ],
  [
    "a processor that nobody knows",
    rules.suitsModel,
    { kind: "gsi", image: { models: [], cpu: "arm64" }, model: { open: ["cpu"] } },
    "? cpu.arch",
  ],
  ["any processor, where nobody knows it", rules.suitsModel, { model: { open: ["cpu"] } }, "holds"],
  ["the system starts", rules.systemStarts, { state: { started: "running" } }, "holds"],
  ["the system does not start", rules.systemStarts, { state: { started: "broken" } }, "order.wrong-moment"],
  ["it runs already", rules.notRunningAlready, { state: { image: "i", started: "running" } }, "image.not-needed"],
  ["it is on it, and does not start", rules.notRunningAlready, { state: { image: "i", started: "broken" } }, "holds"],
  ["firmware in range", rules.firmwareFits, { image: { needs: { firmwareFrom: "F1", firmwareTo: "F3" } } }, "holds"],
  ["firmware too old", rules.firmwareFits, { image: { needs: { firmwareFrom: "F3" } } }, "firmware.too-old"],
  ["firmware too new", rules.firmwareFits, { image: { needs: { firmwareTo: "F1" } } }, "firmware.too-new"],
  [
    "firmware wanted and not known",
    rules.firmwareFits,
    { image: { needs: { firmwareFrom: "F1" } }, facts: { "firmware.version": null } },
    "? firmware.version",
  ],

  ["stock runs", rules.stockRuns, {}, "holds"],
  ["a ROM runs", rules.stockRuns, { facts: { "system.kind": "custom" } }, "update.needs-stock"],
  ["what runs is not known", rules.stockRuns, { facts: { "system.kind": null } }, "? system.kind"],
  [
    "update follows",
    rules.updateFollows,
    { kind: "official-update", image: { needs: { fromReleases: ["10"] } } },
    "holds",
  ],
  [
    "update for another base",
    rules.updateFollows,
    { kind: "official-update", image: { needs: { fromReleases: ["12"] } } },
    "update.wrong-base",
  ],
  ["update to what runs already", rules.updateFollows, { kind: "official-update", api: 28 }, "image.not-needed"],
  [
    "release not known",
    rules.updateFollows,
    { kind: "official-update", facts: { "android.release": null } },
    "? android.release",
  ],
  ["updates come first", rules.updatesComeFirst, { facts: { "bootloader.locked": true } }, "holds"],
  [
    "no update after unlocking in this plan",
    rules.updatesComeFirst,
    { facts: { "bootloader.locked": true }, state: { locked: false } },
    "order.wrong-moment",
  ],
  ["an update on a device that came unlocked", rules.updatesComeFirst, {}, "holds"],
  ["an update over a custom recovery", rules.whollyStockOrLocked, { state: { recovery: "r" } }, "update.needs-stock"],
  ["an update, everything known to be stock", rules.whollyStockOrLocked, {}, "holds"],
  [
    "an update on an unlocked device whose recovery nobody looked at",
    rules.whollyStockOrLocked,
    { facts: { "recovery.image": null } },
    "? recovery.image",
  ],
  [
    "an update on a locked device: locked means stock",
    rules.whollyStockOrLocked,
    { facts: { "recovery.image": null, "verification.off": null, "bootloader.locked": true } },
    "holds",
  ],
  [
    "an update where nobody knows the lock",
    rules.whollyStockOrLocked,
    { facts: { "recovery.image": null, "bootloader.locked": null } },
    "? bootloader.locked",
  ],
  [
    "an update behind a whole stock package that has started",
    rules.updatesComeFirst,
    { facts: { "bootloader.locked": true }, state: { locked: false, whole: true, storage: "clean" } },
    "holds",
  ],
  [
    "an update whose build nobody recorded is not there already",
    rules.updateFollows,
    { kind: "official-update", image: { build: null }, facts: { "build.number": null } },
    "holds",
  ],

  ["locked", rules.bootloaderUnlocked, { facts: { "bootloader.locked": true } }, "bootloader.locked"],
  ["unlocked", rules.bootloaderUnlocked, {}, "holds"],
  ["lock not known", rules.bootloaderLocked, { facts: { "bootloader.locked": null } }, "? bootloader.locked"],
  ["already unlocked", rules.bootloaderLocked, {}, "bootloader.unlocked"],
  ["can't be unlocked", rules.unlockPossible, { model: { unlock: { possible: false } } }, "unlock.impossible"],
  ["permission missing", rules.permission("granted"), {}, "unlock.permission"],
  ["permission there", rules.permission("granted"), { facts: { "unlock.granted": true } }, "holds"],

  ["up from stock", rules.downgradeAllowed, {}, "holds"],
  ["down from stock", rules.downgradeAllowed, { api: 28 }, "holds"],
  ["down from a ROM", rules.downgradeAllowed, { api: 28, facts: { "system.kind": "custom" } }, "downgrade.via-stock"],
  [
    "down directly, by policy and record",
    rules.downgradeAllowed,
    { api: 28, facts: { "system.kind": "custom" }, policy: { goingDown: "direct" }, model: { directDowngrade: true } },
    "holds",
  ],
  [
    "down directly without a record",
    rules.downgradeAllowed,
    { api: 28, facts: { "system.kind": "custom" }, policy: { goingDown: "direct" } },
    "downgrade.via-stock",
  ],
  [
    "down from what was not written to its end",
    rules.downgradeAllowed,
    { api: 28, state: { system: "none" } },
    "holds",
  ],
  [
    "from a release that nobody read",
    rules.downgradeAllowed,
    { state: { assumed: ["android.release"] } },
    "? android.release",
  ],
  ["from a system that nobody read", rules.downgradeAllowed, { state: { assumed: ["system.kind"] } }, "? system.kind"],
  ["what runs already", rules.notRunningAlready, { state: { image: "i" } }, "image.not-needed"],

  ["add-on right after the ROM", rules.freshRom, { state: { system: "custom", started: "fresh" } }, "holds"],
  [
    "add-on after the first start",
    rules.freshRom,
    { state: { system: "custom", started: "running" } },
    "services.after-start",
  ],
  [
    "add-on of the same release",
    rules.servicesMatch,
    { kind: "services", others: [rom()], state: { image: "rom" } },
    "holds",
  ],
  [
    "add-on of another release",
    rules.servicesMatch,
    { kind: "services", api: 34, others: [rom()], state: { image: "rom" } },
    "services.other-release",
  ],
  [
    "ROM brings them already",
    rules.servicesMatch,
    { kind: "services", others: [rom({ services: true })], state: { image: "rom" } },
    "services.built-in",
  ],
  [
    "add-on known not to work",
    rules.servicesMatch,
    { kind: "services", others: [rom()], state: { image: "rom" }, pairs: [["rom", "i"]] },
    "pair.incompatible",
  ],

  ["a whole stock package written in this plan, and started", rules.whollyStock, { state: { whole: true } }, "holds"],
  ["stock as it came, by every fact", rules.whollyStock, {}, "relock.modified"],
  [
    "locking a ROM",
    rules.whollyStock,
    { facts: { "system.kind": "custom" }, state: { whole: true } },
    "relock.modified",
  ],
  [
    "locking with verification off",
    rules.whollyStock,
    { state: { whole: true, verification: "off" } },
    "relock.modified",
  ],
  [
    "locking before the first start",
    rules.whollyStock,
    { state: { whole: true, started: "fresh" } },
    "relock.modified",
  ],
  [
    "a stock package without files for partitions",
    rules.writable,
    { kind: "stock", image: { firmware: "F2", files: [{ name: "all.zip", bytes: 9 }] } },
    "stock.not-whole",
  ],
  [
    "a stock package with boot and system",
    rules.writable,
    {
      kind: "stock",
      image: {
        firmware: "F2",
        files: [
          { name: "b.img", partition: "boot", bytes: 9 },
          { name: "s.img", partition: "system", bytes: 9 },
        ],
      },
    },
    "holds",
  ],
  [
    "off dangerous firmware only to the safe base",
    rules.noRollback,
    {
      model: {
        firmware: { order: ["F1", "F2", "F3", "F4"], dangerous: [{ from: "F2", to: "F2", says: "kills", safe: "F4" }] },
      },
      image: { firmware: "F3" },
    },
    "firmware.dangerous",
  ],
  [
    "a version the record's order does not hold is a question about the model",
    rules.firmwareFits,
    { image: { needs: { firmwareFrom: "F1" } }, facts: { "firmware.version": "X-odd" } },
    "? firmware.version",
  ],
  [
    "a device that does not start, with an account on it",
    rules.signedOut,
    { facts: { "system.starts": "no", "accounts.on": true } },
    "accounts.on-it",
  ],
  [
    "a device that starts, with an account on it: it is signed out first",
    rules.signedOut,
    { facts: { "accounts.on": true } },
    "holds",
  ],
  [
    "a ROM larger than the system partition",
    rules.romFits,
    { model: { room: { system: 5e8, product: null } } },
    "rom.room",
  ],
  [
    "a package larger than the free storage that was read",
    rules.packageFits,
    { facts: { "storage.free": 1_000_000 } },
    "storage.room",
  ],
  ["free storage that nobody read stops nothing", rules.packageFits, {}, "holds"],
  [
    "the recovery that is on it already",
    rules.notThisRecovery,
    { kind: "recovery", image: { flavour: "custom" }, state: { recovery: "i" } },
    "order.wrong-moment",
  ],
  [
    "another recovery than the one that is on it",
    rules.notThisRecovery,
    { kind: "recovery", image: { flavour: "custom" }, others: [recovery()], state: { recovery: "r" } },
    "holds",
  ],
  ["the maker does not lock again", rules.relockOffered, { model: { relock: false } }, "relock.not-offered"],
  ["the house does not lock again", rules.relockOffered, { policy: { relock: "never" } }, "relock.not-offered"],
  ["not rooted", rules.rootAllowed, {}, "holds"],
  ["rooted, the house installs none", rules.rootAllowed, { image: { rooted: true } }, "image.rooted"],
  ["rooted, the house allows it", rules.rootAllowed, { image: { rooted: true }, policy: { root: "allowed" } }, "holds"],
  ["through fastboot", rules.throughFastboot, {}, "holds"],
  ["through download mode", rules.throughFastboot, { model: { flash: "download-mode" } }, "flash.other-interface"],
];

test.each(TABLE)("%s", (_name, rule, given, expected) => {
  expect(askRule(rule, given)).toBe(expected);
});
