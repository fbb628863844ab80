import { compareFirmware, firmwareInRange } from "~/core/android/firmwareVersion";
import { describeRelease, releaseOf } from "~/core/android/releases";
import { binderAnswer, type FacetAnswer, layoutAnswer, systemAsRoot } from "~/core/catalogue/layout";
import { FLASH_WORDS } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import { lookUp } from "~/core/device/lookUp";
import type { Policy } from "~/core/policy/policy";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import { fails, HOLDS, type Outcome, type ReasonCode, unknown } from "./outcome";
import type { PlanDevice, PlanState } from "./state";

/** What a rule may look at. `image` is the image the operation is about (null for operations without one). */
export interface RuleContext {
  readonly device: PlanDevice;
  readonly state: PlanState;
  readonly entry: IndexedImage | null;
  readonly index: CatalogueIndex;
  readonly policy: Policy;
}

/** A precondition: a value in an operation's list, never a branch in a long function. */
export type Rule = (ctx: RuleContext) => Outcome;

const MiB = 1_048_576;
const mib = (bytes: number) => `${Math.ceil(bytes / MiB).toLocaleString("en")} MiB`;

const recoveryOf = ({ index, state }: RuleContext) =>
  state.recovery === "stock" ? null : (index.images.get(state.recovery) ?? null);

/** The image is made for this model. */
export const suitsModel: Rule = ({ entry, device }) => {
  const image = entry!.image;
  if (image.models.length > 0 && !image.models.includes(device.model.id))
    return fails("image.other-model", `Made for ${image.models.join(", ")}, not for this board`);
  if (image.cpu !== null) {
    const cpu = lookUp<string>(device.facts, "cpu.arch");
    const arch = cpu.isUnknown ? device.model.cpu : cpu.value;
    if (arch !== image.cpu) return fails("image.cpu", `Made for ${image.cpu} processors; this device has ${arch}`);
  }
  return HOLDS;
};

export const notWithdrawn: Rule = ({ entry, index }) => {
  const withdrawn = entry!.image.withdrawn;
  if (!withdrawn) return HOLDS;
  const next = withdrawn.successor ? index.images.get(withdrawn.successor)?.image.title : null;
  return fails("image.withdrawn", `Withdrawn: ${withdrawn.says}${next ? `. Use ${next} instead` : ""}`);
};

export const rootAllowed: Rule = ({ entry, policy }) =>
  entry!.image.rooted && policy.root === "never"
    ? fails("image.rooted", "It is rooted: banking apps refuse it, and the house installs none (policy)")
    : HOLDS;

/** The installed firmware is not one that kills boards under this operation. */
export const firmwareSafe: Rule = ({ state, device }) => {
  const { dangerous, order } = device.model.firmware;
  if (dangerous.length === 0) return HOLDS;
  if (state.firmware === null) return unknown("firmware.unknown", "firmware.version");
  for (const range of dangerous) {
    const inside = firmwareInRange(order, state.firmware, range);
    if (inside === null) return unknown("firmware.unknown", "firmware.version");
    if (inside)
      return fails(
        "firmware.dangerous",
        `Firmware ${state.firmware} kills boards: ${range.says}. Go to ${range.safe} first; switch automatic updates off`,
      );
  }
  return HOLDS;
};

/** The firmware an image brings is neither dangerous nor older than what is installed. */
export const bringsSafeFirmware: Rule = ({ entry, state, device }) => {
  const brings = entry!.image.firmware;
  if (brings === null) return HOLDS;
  const { dangerous, order } = device.model.firmware;
  for (const range of dangerous)
    if (firmwareInRange(order, brings, range) !== false)
      return fails("firmware.dangerous", `It brings firmware ${brings}, which kills boards: ${range.says}`);
  if (state.firmware === null) return unknown("firmware.unknown", "firmware.version");
  const against = compareFirmware(order, brings, state.firmware);
  if (against === null) return unknown("firmware.unknown", "firmware.version");
  return against < 0
    ? fails(
        "firmware.rollback",
        `It brings firmware ${brings}, older than the installed ${state.firmware}: a device refuses or dies on the way back`,
      )
    : HOLDS;
};

/** The installed firmware lies in the range the image asks for. */
export const firmwareFits: Rule = ({ entry, state, device }) => {
  const { firmwareFrom, firmwareTo } = entry!.image.needs;
  if (!firmwareFrom && !firmwareTo) return HOLDS;
  if (state.firmware === null) return unknown("firmware.unknown", "firmware.version");
  const { order } = device.model.firmware;
  if (firmwareFrom) {
    const low = compareFirmware(order, state.firmware, firmwareFrom);
    if (low === null) return unknown("firmware.unknown", "firmware.version");
    if (low < 0)
      return fails("firmware.too-old", `Needs firmware ${firmwareFrom} or later; this has ${state.firmware}`);
  }
  if (firmwareTo) {
    const high = compareFirmware(order, state.firmware, firmwareTo);
    if (high === null) return unknown("firmware.unknown", "firmware.version");
    if (high > 0)
      return fails("firmware.too-new", `Needs firmware ${firmwareTo} or earlier; this has ${state.firmware}`);
  }
  return HOLDS;
};

export const stockRuns: Rule = ({ state }) => {
  if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
  return state.system === "stock" && state.started !== "broken"
    ? HOLDS
    : fails("update.needs-stock", "Official updates go only on the maker's own, running system");
};

export const updateFollows: Rule = ({ entry, state }) => {
  const from = entry!.image.needs.fromReleases;
  if (state.assumed.includes("android.release")) return unknown("release.unknown", "android.release");
  if (entry!.api < state.api || entry!.image.build === state.baseBuild)
    return fails("image.not-needed", `The device already runs ${describeRelease(state.api)}`);
  const here = releaseOf(state.api);
  if (from.length && !(here && from.includes(here)))
    return fails("update.wrong-base", `This update goes only on Android ${from.join(" or ")}; the device runs ${here}`);
  return HOLDS;
};

export const bootloaderUnlocked: Rule = ({ state }) =>
  state.locked ? fails("bootloader.locked", "The bootloader is locked") : HOLDS;

export const bootloaderLocked: Rule = ({ state }) => {
  if (state.assumed.includes("bootloader.locked")) return unknown("bootloader.unknown", "bootloader.locked");
  return state.locked ? HOLDS : fails("bootloader.unlocked", "The bootloader is already unlocked");
};

export const unlockPossible: Rule = ({ device }) =>
  device.model.unlock.possible
    ? HOLDS
    : fails("unlock.impossible", device.model.unlock.says || "The maker does not let the bootloader be unlocked");

export const permission =
  (wanted: PlanState["permission"]): Rule =>
  ({ state }) =>
    state.permission === wanted
      ? HOLDS
      : wanted === "granted"
        ? fails("unlock.permission", "Unlocking has not been allowed in the developer options yet")
        : fails("order.wrong-moment", "The unlock permission is already asked for");

export const systemStarts: Rule = ({ state }) =>
  state.started === "running" ? HOLDS : fails("order.wrong-moment", "The system has to run for this step");

export const recoveryInstalls: Rule = (ctx) => {
  const { entry } = ctx;
  const recovery = recoveryOf(ctx);
  const wantsOwn = entry!.image.installs === "sideload";
  if (!recovery || (recovery.image.flavour === "rom") !== wantsOwn)
    return fails("recovery.missing", wantsOwn ? "Needs the ROM's own recovery first" : "Needs a custom recovery first");
  if (wantsOwn && recovery.image.release !== entry!.image.release)
    return fails(
      "recovery.other-release",
      `The recovery is for Android ${recovery.image.release}, the ROM is ${entry!.image.release}: they must be the same`,
    );
  const least = entry!.image.needs.recoveryVersion;
  if (least) {
    const order = compareFirmware([], recovery.image.version, least);
    if (order === null || order < 0)
      return fails(
        "recovery.too-old",
        `Needs recovery ${least} or later; ${recovery.image.title} is ${recovery.image.version}`,
      );
  }
  const pair = ctx.index.incompatible(entry!.image.id, recovery.image.id);
  if (pair) return fails("pair.incompatible", `Does not work with ${recovery.image.title}: ${pair.says}`);
  return HOLDS;
};

export const hasCustomRecovery: Rule = (ctx) =>
  recoveryOf(ctx)?.image.flavour === "custom" ? HOLDS : fails("recovery.missing", "Needs a custom recovery first");

export const recoveryFits: Rule = ({ entry, device }) => {
  if (entry!.image.flavour === "rom") return HOLDS;
  const room = device.model.room.recovery;
  if (room === null) return fails("recovery.no-partition", "This model has no recovery partition of its own");
  return entry!.expanded <= room
    ? HOLDS
    : fails("gsi.room", `The recovery is ${mib(entry!.expanded - room)} larger than its partition`);
};

/** Going down a release: through stock, unless the house goes directly and the model has a recorded success. */
export const downgradeAllowed: Rule = ({ entry, state, device, policy }) => {
  if (state.assumed.includes("android.release")) return unknown("release.unknown", "android.release");
  if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
  if (entry!.api >= state.api || state.system === "stock") return HOLDS;
  if (policy.goingDown === "direct" && device.model.directDowngrade) return HOLDS;
  return fails(
    "downgrade.via-stock",
    policy.goingDown === "direct"
      ? "Going down directly has no recorded success on this model: go through stock"
      : "Going down a release goes through stock first (policy)",
  );
};

export const notRunningAlready: Rule = ({ entry, state }) =>
  state.image === entry!.image.id && state.started === "running"
    ? fails("image.not-needed", "This is what runs already")
    : HOLDS;

export const vendorInterface: Rule = ({ device }) => {
  const treble = lookUp<boolean>(device.facts, "treble.supported");
  const has = treble.isUnknown ? device.model.treble : treble.value;
  return has && device.model.launchApi >= 26
    ? HOLDS
    : fails("gsi.needs-vendor-interface", "A generic image needs the vendor interface, and this device has none");
};

export const binderFits: Rule = ({ entry, device }) => {
  const read = lookUp<"32" | "64">(device.facts, "kernel.binder");
  const answer = binderAnswer(entry!.image, read.isUnknown ? device.model.binder : read.value);
  return facetOutcome(answer, "gsi.binder", "kernel.binder");
};

export const layoutFits: Rule = ({ entry, device }) => {
  const read = lookUp<boolean>(device.facts, "system.as-root");
  const answer = layoutAnswer(entry!.image, systemAsRoot(device.model, read.isUnknown ? null : read.value));
  return facetOutcome(answer, "gsi.slots", "system.as-root");
};

const facetOutcome = (answer: FacetAnswer, code: ReasonCode, fact: FactKey): Outcome =>
  answer.is === "fits" ? HOLDS : answer.is === "open" ? unknown(code, fact) : fails(code, answer.says);

/** The lane's steps are fastboot commands; download mode and loader boards have other ones. */
export const throughFastboot: Rule = ({ device }) =>
  device.model.flash === "fastboot"
    ? HOLDS
    : fails(
        "flash.other-interface",
        `This model is flashed through ${FLASH_WORDS[device.model.flash]}: the lane can't plan that yet`,
      );

export const stockBase: Rule = ({ state, entry }) => {
  if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
  if (state.system !== "stock")
    return fails("gsi.needs-stock-base", "A generic image goes on the maker's own system: go to stock first");
  return entry!.api >= state.baseApi
    ? HOLDS
    : fails(
        "gsi.older-than-base",
        `The vendor part is from Android ${releaseOf(state.baseApi)}; an older generic image does not start on it`,
      );
};

/** What removing product frees: as read from the device, else what the model's record says. */
function productRoom({ facts, model }: PlanDevice): number {
  const read = lookUp<number>(facts, "room.product");
  return read.isUnknown ? (model.room.product ?? 0) : read.value;
}

/** The expanded image fits the system partition, with product's room when that is removed. */
export const imageFits: Rule = ({ entry, state, device }) => {
  const read = lookUp<number>(device.facts, "room.system");
  const system = read.isUnknown ? device.model.room.system : read.value;
  const room = system + (state.product === "removed" ? productRoom(device) : 0);
  return entry!.expanded <= room
    ? HOLDS
    : fails("gsi.room", `The image is ${mib(entry!.expanded - room)} larger than the room of ${mib(room)}`);
};

export const verificationIsOff: Rule = ({ state, policy }) =>
  state.verification === "off" || policy.verificationOrder === "after"
    ? HOLDS
    : fails("verification.missing", "Needs the verification file of exactly the installed build, and there is none");

export const verificationMatches: Rule = ({ entry, state }) => {
  if (state.assumed.includes("build.number") || state.baseBuild === null)
    return unknown("build.unknown", "build.number");
  return entry!.image.build === state.baseBuild
    ? HOLDS
    : fails(
        "verification.other-build",
        `Belongs to build ${entry!.image.build}; the installed build is ${state.baseBuild}`,
      );
};

export const verificationOn: Rule = ({ state }) =>
  state.verification === "on" ? HOLDS : fails("order.wrong-moment", "Verification is switched off already");

/** The house flashes the verification file before the image or after it; never on its own. */
export const verificationMoment: Rule = ({ state, policy }) =>
  (policy.verificationOrder === "after") === (state.system === "generic")
    ? HOLDS
    : fails("order.wrong-moment", "The verification file goes on at another moment (policy)");

/** Product goes only to make room for a generic image, on a system that is still the maker's. */
export const productRemovable: Rule = ({ state, device }) => {
  const { model, facts } = device;
  if (state.system !== "stock" || state.product === "removed")
    return fails("order.wrong-moment", "Product is removed already, or the system is not stock");
  const userspace = lookUp<boolean>(facts, "fastboot.userspace");
  if (productRoom(device) === 0 || !model.logical || !(userspace.isUnknown ? model.userspaceFastboot : userspace.value))
    return fails("product.not-removable", "The product partition can't be removed on this model");
  return model.slots && lookUp(facts, "slot.current").isUnknown ? unknown("slot.unknown", "slot.current") : HOLDS;
};

export const freshRom: Rule = ({ state }) =>
  state.started === "fresh" && state.system === "custom"
    ? HOLDS
    : fails("services.after-start", "The services add-on goes on before the first start, right after the ROM");

export const servicesMatch: Rule = ({ entry, state, index }) => {
  const rom = state.image ? index.images.get(state.image) : undefined;
  if (!rom) return fails("services.after-start", "There is no freshly installed ROM to add services to");
  if (rom.image.services) return fails("services.built-in", `${rom.image.title} brings the services already`);
  if (state.services) return fails("order.wrong-moment", "A services add-on is on it already");
  if (rom.image.release !== entry!.image.release)
    return fails(
      "services.other-release",
      `The add-on is for Android ${entry!.image.release}, the ROM is ${rom.image.release}`,
    );
  const pair = index.incompatible(entry!.image.id, rom.image.id);
  return pair ? fails("pair.incompatible", `Does not work with ${rom.image.title}: ${pair.says}`) : HOLDS;
};

export const storageWants =
  (wanted: PlanState["storage"]): Rule =>
  ({ state }) =>
    state.storage === wanted ? HOLDS : fails("order.wrong-moment", `Storage is ${state.storage}, not ${wanted}`);

export const startsOrFresh: Rule = ({ state }) =>
  state.started !== "broken" ? HOLDS : fails("order.wrong-moment", "No system is on the device at this moment");

export const whollyStock: Rule = ({ state }) =>
  state.system === "stock" &&
  state.recovery === "stock" &&
  state.verification === "on" &&
  state.product === "present" &&
  state.started === "running"
    ? HOLDS
    : fails(
        "relock.modified",
        "Locking a modified device kills it: only a wholly stock device that has started may be locked",
      );

export const relockOffered: Rule = ({ device, policy }) =>
  device.model.relock && policy.relock === "when-stock"
    ? HOLDS
    : fails(
        "relock.not-offered",
        device.model.relock ? "The house does not relock (policy)" : "This maker's devices can't be locked again",
      );

/** An official update checks every partition it patches: a custom recovery or switched-off verification stops it. */
export const whollyStockOrLocked: Rule = ({ state }) =>
  state.recovery === "stock" && state.verification === "on" && state.product === "present"
    ? HOLDS
    : fails("update.needs-stock", "Something on the device is no longer the maker's: the update would refuse");

export const notThisRecovery: Rule = ({ state, entry }) =>
  state.recovery === "stock" ? HOLDS : fails("order.wrong-moment", `A recovery is on it already (${entry!.image.id})`);

export const freshStock: Rule = ({ state }) =>
  state.started === "fresh" && state.system === "stock" && state.storage === "clean"
    ? HOLDS
    : fails("order.wrong-moment", "Only a freshly flashed stock system is started and tested here");

/** Official updates come first: on an unlocked or freshly wiped device they refuse, or the set-up is done twice. */
export const updatesComeFirst: Rule = ({ state, device }) => {
  const had = (key: "unlock.granted" | "bootloader.locked" | "storage.state", value: boolean | string) => {
    const looked = lookUp(device.facts, key);
    return !looked.isUnknown && looked.value === value;
  };
  const untouched =
    (state.permission === "none" || had("unlock.granted", true)) &&
    (state.locked || had("bootloader.locked", false)) &&
    (state.storage !== "clean" || had("storage.state", "clean"));
  return untouched ? HOLDS : fails("order.wrong-moment", "Take official updates before anything is unlocked or wiped");
};
