import { after, settled } from "~/core/upgrade/state";
import {
  bootloaderUnlocked,
  bringsNoDanger,
  firmwareFits,
  firmwareSafe,
  noRollback,
  notRunningAlready,
  notWithdrawn,
  rootAllowed,
  signedOut,
  suitsModel,
  throughFastboot,
} from "../common/rules";
import { failureOf, imageOperation, type WayFamily } from "../operation";
import { isNoPort } from "../port/rules";
import { behindRom } from "./behindRom";
import {
  addOnWanted,
  downgradeAllowed,
  freshRom,
  hasCustomRecovery,
  notThisRecovery,
  packageFits,
  recoveryFits,
  recoveryInstalls,
  romFits,
  servicesMatch,
} from "./rules";
import { firmwarePackSteps, flashRecoverySteps, installRomSteps, installServicesSteps } from "./steps";

const flashRecovery = imageOperation("flash-recovery", "recovery", {
  says: "Flash the recovery",
  next: ["install-firmware-pack", "install-rom"],
  settles: ["recovery.missing", "recovery.other-release", "recovery.too-old"],
  needs: [
    suitsModel,
    notWithdrawn,
    throughFastboot,
    recoveryFits,
    bootloaderUnlocked,
    firmwareSafe,
    firmwareFits,
    notThisRecovery,
  ],
  apply: (s, { image }) => {
    const own = image.flavour === "rom";
    return after(s, {
      recovery: image.id,
      // The ROM's own recovery comes with its boot and verification parts: the old system no longer starts.
      started: own ? "broken" : s.started,
      whole: false,
      assumed: settled(s.assumed, ["recovery.image"]),
    });
  },
  cost: (e) => ({ handsOn: 4, unattended: 1, failure: failureOf(e, 0.02) }),
  steps: flashRecoverySteps,
});

const installFirmwarePack = imageOperation("install-firmware-pack", "firmware-pack", {
  says: "Install the firmware pack",
  next: ["install-firmware-pack", "install-rom"],
  settles: ["firmware.too-old", "firmware.dangerous"],
  needs: [
    suitsModel,
    notWithdrawn,
    bringsNoDanger,
    packageFits,
    bootloaderUnlocked,
    hasCustomRecovery,
    firmwareFits,
    noRollback,
  ],
  apply: (s, { image }) =>
    after(s, {
      firmware: image.firmware ?? s.firmware,
      whole: false,
      assumed: image.firmware ? settled(s.assumed, ["firmware.version"]) : s.assumed,
    }),
  cost: (e) => ({ handsOn: 3, unattended: 2, failure: failureOf(e, 0.02) }),
  steps: firmwarePackSteps,
});

const installRom = imageOperation("install-rom", "rom", {
  says: "Install the ROM",
  installs: "custom",
  next: ["install-services", "format-data"],
  needs: [
    suitsModel,
    notWithdrawn,
    rootAllowed,
    isNoPort,
    romFits,
    packageFits,
    notRunningAlready,
    bootloaderUnlocked,
    signedOut,
    firmwareSafe,
    firmwareFits,
    recoveryInstalls,
    downgradeAllowed,
  ],
  // Sideload installs after its own format; packages leave it to the operation that follows.
  apply: (s, entry) => behindRom(s, entry, entry.image.installs === "sideload" ? "clean" : "must-format"),
  cost: (e) =>
    e.image.installs === "sideload"
      ? { handsOn: 6, unattended: 7, failure: failureOf(e, 0.05), wipes: 1 }
      : { handsOn: 7, unattended: 4, failure: failureOf(e, 0.06), wipes: 1 },
  steps: installRomSteps,
});

const installServices = imageOperation("install-services", "services", {
  says: "Install the services add-on",
  next: ["format-data"],
  needs: [suitsModel, notWithdrawn, addOnWanted, packageFits, freshRom, servicesMatch],
  apply: (s, { image }) => after(s, { services: image.id }),
  cost: (e) => ({ handsOn: 3, unattended: 2, failure: failureOf(e, 0.02) }),
  steps: installServicesSteps,
});

/** B and C: packages that a recovery installs, a custom one or the ROM's own. */
export const recoveryPackages = {
  id: "recovery-packages",
  says: "Recovery and packages",
  operations: [flashRecovery, installFirmwarePack, installRom, installServices],
  hands: [
    "keys.recovery",
    "recovery.wipe-advanced",
    "recovery.format-data",
    "recovery.install.",
    "recovery.apply-from-adb",
    "recovery.install-more",
    "recovery.start-system",
  ],
  together: [
    {
      about: "rom",
      beside: "recovery",
      rule: recoveryInstalls,
      state: ({ image }) => ({ recovery: image.id }),
    },
    {
      about: "services",
      beside: "rom",
      rule: servicesMatch,
      state: ({ image }) => ({ image: image.id, services: null }),
    },
  ],
} as const satisfies WayFamily;
