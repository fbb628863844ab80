import type { Facets } from "~/core/catalogue/facets";
import type { ImageKind } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { IndexedImage } from "./catalogueIndex";
import type { Rule } from "./rules";
import * as rules from "./rules";
import { after, type PlanDevice, type PlanState, settled } from "./state";

export const OPERATION_KINDS = [
  "take-update",
  "allow-unlock",
  "wait-unlock",
  "unlock",
  "flash-stock",
  "flash-recovery",
  "install-firmware-pack",
  "install-rom",
  "install-services",
  "flash-verification",
  "remove-product",
  "install-gsi",
  "format-data",
  "factory-reset",
  "start-and-check",
  "relock",
] as const;
export type OperationKind = (typeof OPERATION_KINDS)[number];

export const OPERATION_WORDS: Record<OperationKind, string> = {
  "take-update": "Take the official update",
  "allow-unlock": "Allow unlocking in the developer options",
  "wait-unlock": "Wait for the maker's unlock permission",
  unlock: "Unlock the bootloader",
  "flash-stock": "Flash the stock package",
  "flash-recovery": "Flash the recovery",
  "install-firmware-pack": "Install the firmware pack",
  "install-rom": "Install the ROM",
  "install-services": "Install the services add-on",
  "flash-verification": "Flash the verification file, verification off",
  "remove-product": "Remove the product partition",
  "install-gsi": "Flash the generic system image",
  "format-data": "Format data",
  "factory-reset": "Reset from Settings",
  "start-and-check": "Start it and test Wi-Fi and mobile",
  relock: "Lock the bootloader again",
};

/** What an operation takes. Minutes, days, share of failure 0 to 1, wipes, marks that stay. */
export interface OperationCost {
  readonly handsOn: number;
  readonly unattended: number;
  readonly failure: number;
  readonly waitingDays?: number;
  readonly wipes?: number;
  readonly irreversible?: readonly string[];
}

export interface OperationDefinition {
  readonly kind: OperationKind;
  /** Kind of image it is about; null for none. */
  readonly image: ImageKind | null;
  /** What may sensibly come next; everything else would only be done twice or undone again. */
  readonly next: readonly OperationKind[];
  /** All must hold, in the order they are told to people. */
  readonly needs: readonly Rule[];
  readonly apply: (state: PlanState, entry: IndexedImage, device: PlanDevice) => PlanState;
  readonly cost: (entry: IndexedImage, device: PlanDevice) => OperationCost;
}

const writeMinutes = (bytes: number, device: PlanDevice) => bytes / device.model.writeRate / 60;
const failureOf = (entry: IndexedImage, usual: number) =>
  entry.image.success === null ? usual : 1 - entry.image.success;

/**
 * Whether the way a generic image is patched is the one to try first on a model: lightly patched on newer devices with
 * fastboot, heavily patched or for the lite interface on older ones and in download mode. Common practice, no source.
 *
 * @returns null where the image does not say how it is patched
 */
export function patchingSuits(patching: Facets["patching"], model: Pick<Model, "launchApi" | "flash">): boolean | null {
  if (patching === null) return null;
  const newer = model.launchApi >= 28 && model.flash === "fastboot";
  return newer === (patching === "light");
}

/** What a plan may begin with; after an official update the device stands at the beginning again. */
export const FIRST_OPERATIONS: readonly OperationKind[] = [
  "take-update",
  "allow-unlock",
  "unlock",
  "flash-stock",
  "flash-recovery",
  "flash-verification",
  "remove-product",
  "install-gsi",
  "factory-reset",
  "relock",
];

/**
 * Every operation the planner knows, as data. Minutes are the handbook's usual values (common practice, no source); a
 * catalogue image with a recorded success outweighs the usual share of failure.
 */
export const OPERATIONS: readonly OperationDefinition[] = [
  {
    kind: "take-update",
    image: "official-update",
    next: FIRST_OPERATIONS,
    needs: [
      rules.suitsModel,
      rules.notWithdrawn,
      rules.stockRuns,
      rules.systemStarts,
      rules.whollyStockOrLocked,
      rules.updatesComeFirst,
      rules.bringsSafeFirmware,
      rules.updateFollows,
    ],
    apply: (s, { image, api }) =>
      after(s, {
        image: image.id,
        api,
        baseApi: api,
        baseBuild: image.build,
        patch: image.patch,
        basePatch: image.patch,
        firmware: image.firmware ?? s.firmware,
        assumed: settled(s.assumed, ["build.number", "firmware.version"]),
      }),
    // Download, verify, restart and optimise: 20 min plus the bytes over a shared line of about 2 MB/s.
    cost: (e) => ({ handsOn: 3, unattended: 20 + e.bytes / 2_000_000 / 60, failure: failureOf(e, 0.02) }),
  },
  {
    kind: "allow-unlock",
    image: null,
    next: ["wait-unlock", "unlock"],
    needs: [
      rules.unlockPossible,
      rules.throughFastboot,
      rules.bootloaderLocked,
      rules.permission("none"),
      rules.systemStarts,
    ],
    apply: (s, _e, device) => after(s, { permission: device.model.unlock.waitingDays > 0 ? "asked" : "granted" }),
    cost: () => ({ handsOn: 3, unattended: 0, failure: 0.005 }),
  },
  {
    kind: "wait-unlock",
    image: null,
    next: ["unlock"],
    needs: [rules.unlockPossible, rules.permission("asked")],
    apply: (s) => after(s, { permission: "granted" }),
    cost: (_e, device) => ({ handsOn: 2, unattended: 0, failure: 0.01, waitingDays: device.model.unlock.waitingDays }),
  },
  {
    kind: "unlock",
    image: null,
    next: ["flash-stock", "flash-recovery", "flash-verification", "remove-product", "install-gsi"],
    needs: [
      rules.bootloaderLocked,
      rules.unlockPossible,
      rules.throughFastboot,
      rules.permission("granted"),
      rules.systemStarts,
    ],
    apply: (s) => after(s, { locked: false, storage: "clean", assumed: settled(s.assumed, ["bootloader.locked"]) }),
    cost: (_e, device) => ({
      handsOn: 4,
      unattended: 3,
      failure: 0.01,
      wipes: 1,
      irreversible: device.model.unlock.consequences,
    }),
  },
  {
    kind: "flash-stock",
    image: "stock",
    next: ["start-and-check", "flash-recovery", "flash-verification", "remove-product", "install-gsi"],
    needs: [
      rules.suitsModel,
      rules.notWithdrawn,
      rules.throughFastboot,
      rules.bootloaderUnlocked,
      rules.bringsSafeFirmware,
    ],
    apply: (s, { image, api }) =>
      after(s, {
        system: "stock",
        image: image.id,
        api,
        baseApi: api,
        baseBuild: image.build,
        patch: image.patch,
        basePatch: image.patch,
        firmware: image.firmware,
        recovery: "stock",
        verification: "on",
        services: null,
        product: "present",
        storage: "clean",
        started: "fresh",
        assumed: settled(s.assumed, ["build.number", "firmware.version", "system.kind", "android.release"]),
      }),
    // The script's questions and look at the end, about five minutes of writing or what the write rate gives.
    cost: (e, d) => ({
      handsOn: 4,
      unattended: Math.max(5, writeMinutes(e.expanded, d)),
      failure: failureOf(e, 0.03),
      wipes: 1,
    }),
  },
  {
    kind: "flash-recovery",
    image: "recovery",
    next: ["install-firmware-pack", "install-rom"],
    needs: [
      rules.suitsModel,
      rules.notWithdrawn,
      rules.throughFastboot,
      rules.bootloaderUnlocked,
      rules.firmwareSafe,
      rules.firmwareFits,
      rules.recoveryFits,
      rules.notThisRecovery,
      rules.startsOrFresh,
    ],
    apply: (s, { image }) =>
      after(s, {
        recovery: image.id,
        // The ROM's own recovery comes with its boot and verification parts: the old system no longer starts.
        started: image.flavour === "rom" ? "broken" : s.started,
      }),
    cost: (e) => ({ handsOn: 4, unattended: 1, failure: failureOf(e, 0.02) }),
  },
  {
    kind: "install-firmware-pack",
    image: "firmware-pack",
    next: ["install-firmware-pack", "install-rom"],
    needs: [
      rules.suitsModel,
      rules.notWithdrawn,
      rules.bootloaderUnlocked,
      rules.hasCustomRecovery,
      rules.firmwareFits,
      rules.bringsSafeFirmware,
    ],
    apply: (s, { image }) =>
      after(s, { firmware: image.firmware ?? s.firmware, assumed: settled(s.assumed, ["firmware.version"]) }),
    cost: (e) => ({ handsOn: 3, unattended: 2, failure: failureOf(e, 0.02) }),
  },
  {
    kind: "install-rom",
    image: "rom",
    next: ["install-services", "format-data"],
    needs: [
      rules.suitsModel,
      rules.notWithdrawn,
      rules.rootAllowed,
      rules.notRunningAlready,
      rules.bootloaderUnlocked,
      rules.firmwareSafe,
      rules.firmwareFits,
      rules.recoveryInstalls,
      rules.downgradeAllowed,
    ],
    apply: (s, { image, api }) =>
      after(s, {
        system: "custom",
        image: image.id,
        api,
        patch: image.patch,
        services: null,
        started: "fresh",
        // Sideload installs after its own format; packages leave it to the operation that follows.
        storage: image.installs === "sideload" ? "clean" : "must-format",
        assumed: settled(s.assumed, ["android.release", "system.kind"]),
      }),
    cost: (e) =>
      e.image.installs === "sideload"
        ? { handsOn: 6, unattended: 7, failure: failureOf(e, 0.05), wipes: 1 }
        : { handsOn: 7, unattended: 4, failure: failureOf(e, 0.06), wipes: 1 },
  },
  {
    kind: "install-services",
    image: "services",
    next: ["format-data"],
    needs: [rules.suitsModel, rules.notWithdrawn, rules.freshRom, rules.servicesMatch],
    apply: (s, { image }) => after(s, { services: image.id }),
    cost: (e) => ({ handsOn: 3, unattended: 2, failure: failureOf(e, 0.02) }),
  },
  {
    kind: "flash-verification",
    image: "verification",
    next: ["remove-product", "install-gsi", "format-data"],
    needs: [
      rules.suitsModel,
      rules.notWithdrawn,
      rules.bootloaderUnlocked,
      rules.firmwareSafe,
      rules.verificationOn,
      rules.verificationMoment,
      rules.verificationMatches,
    ],
    apply: (s) => after(s, { verification: "off" }),
    cost: (e) => ({ handsOn: 2, unattended: 0, failure: failureOf(e, 0.01) }),
  },
  {
    kind: "remove-product",
    image: null,
    next: ["install-gsi"],
    needs: [rules.bootloaderUnlocked, rules.firmwareSafe, rules.productRemovable],
    apply: (s) => after(s, { product: "removed", started: "broken" }),
    cost: () => ({ handsOn: 2, unattended: 0, failure: 0.01 }),
  },
  {
    kind: "install-gsi",
    image: "gsi",
    next: ["flash-verification", "format-data"],
    needs: [
      rules.suitsModel,
      rules.notWithdrawn,
      rules.rootAllowed,
      rules.notRunningAlready,
      rules.vendorInterface,
      rules.binderFits,
      rules.layoutFits,
      rules.throughFastboot,
      rules.bootloaderUnlocked,
      rules.firmwareSafe,
      rules.stockBase,
      rules.verificationIsOff,
      rules.imageFits,
    ],
    apply: (s, { image, api }) =>
      after(s, {
        system: "generic",
        image: image.id,
        api,
        patch: image.patch,
        services: null,
        storage: "must-format",
        started: "fresh",
      }),
    // 5–15 min over the lead by the handbook; the write rate decides within that.
    cost: (e, d) => ({
      handsOn: 5,
      unattended: Math.max(5, Math.min(15, writeMinutes(e.expanded, d))),
      failure: failureOf(e, patchingSuits(e.image.generic.patching, d.model) === false ? 0.14 : 0.08),
    }),
  },
  {
    kind: "format-data",
    image: null,
    next: [],
    needs: [rules.bootloaderUnlocked, rules.storageWants("must-format")],
    apply: (s) => after(s, { storage: "clean" }),
    cost: () => ({ handsOn: 2, unattended: 1, failure: 0.005, wipes: 1 }),
  },
  {
    kind: "factory-reset",
    image: null,
    next: [],
    needs: [rules.systemStarts, rules.storageWants("donor"), rules.firmwareSafe],
    apply: (s) => after(s, { storage: "clean" }),
    cost: () => ({ handsOn: 4, unattended: 8, failure: 0.005, wipes: 1 }),
  },
  {
    kind: "start-and-check",
    image: null,
    next: ["relock", "take-update"],
    needs: [rules.freshStock],
    apply: (s) => after(s, { started: "running" }),
    cost: () => ({ handsOn: 6, unattended: 5, failure: 0.005 }),
  },
  {
    kind: "relock",
    image: null,
    next: [],
    needs: [rules.relockOffered, rules.bootloaderUnlocked, rules.whollyStock],
    apply: (s) => after(s, { locked: true, storage: "clean" }),
    cost: () => ({ handsOn: 4, unattended: 3, failure: 0.01, wipes: 1 }),
  },
];

export const OPERATION_BY_KIND: Readonly<Record<OperationKind, OperationDefinition>> = Object.fromEntries(
  OPERATIONS.map((o) => [o.kind, o]),
) as Record<OperationKind, OperationDefinition>;
