import { lookUp } from "~/core/device/lookUp";
import { after, type PlanDevice, settled } from "~/core/upgrade/state";
import {
  bootloaderUnlocked,
  bringsNoDanger,
  firmwareFits,
  firmwareSafe,
  noRollback,
  notWithdrawn,
  signedOut,
  suitsModel,
  systemStarts,
  through,
} from "../common/rules";
import { behindGeneric, callsCaution } from "../generic-image/behindGeneric";
import { flavourFailure } from "../generic-image/patching";
import { imageFits, MAY_BE_WRITTEN_OVER, SUITS_AS_GENERIC } from "../generic-image/rules";
import { failureOf, imageOperation, operation, type WayFamily, writeMinutes } from "../operation";
import { notThisRecovery, recoveryFits } from "../recovery-packages/rules";
import { behindStock, notWholeCaution, stockMinutes } from "../stock-package/behindStock";
import { fuseFits, modelNumberFits, regionFits, writtenBy } from "../stock-package/rules";
import { bootloaderLocked, permission, unlockPossible } from "../unlocking/rules";
import {
  bringsVerification,
  downloadRecorded,
  hasWipeEdition,
  noComputer,
  recoveryWritesImages,
  slotsForAll,
  stockUnder,
  verificationOfBuild,
} from "./rules";
import {
  flashTarsSteps,
  imageFromRecoverySteps,
  imageFromStickSteps,
  unlockInDownloadSteps,
  writeRecoverySteps,
} from "./steps";

const throughDownload = through("download-mode");

/** The fuse that the first foreign image blows; none where it is blown already, or the model has none. */
function fuseOf({ model, facts }: PlanDevice): readonly string[] {
  const blown = lookUp(facts, "fuse.blown");
  return model.download?.fuse && !(!blown.isUnknown && blown.value) ? [model.download.fuse] : [];
}

const unlockInDownload = operation("unlock-download", {
  says: "Unlock in download mode",
  opens: true,
  next: ["write-recovery"],
  follows: ["allow-unlock", "wait-unlock"],
  settles: ["bootloader.locked"],
  needs: [bootloaderLocked, unlockPossible, throughDownload, downloadRecorded, permission("granted"), systemStarts],
  apply: (s, _e, { model }) =>
    after(s, {
      locked: false,
      // Somebody walked through the set-up and went online, so that it stays unlocked.
      storage: model.download?.greyedToggle ? "workshop" : "clean",
      whole: false,
      assumed: settled(s.assumed, ["bootloader.locked", "recovery.image", "verification.off", "product.removed"]),
    }),
  cost: (_e, { model }) => ({
    handsOn: 9,
    unattended: 4,
    failure: 0.03,
    wipes: 1,
    irreversible: model.unlock.consequences,
  }),
  steps: unlockInDownloadSteps,
});

const writeRecovery = imageOperation("write-recovery", "recovery", {
  says: "Write the recovery in download mode, with its verification file",
  keepsBase: true,
  next: ["install-gsi-recovery", "install-rom", "install-firmware-pack"],
  follows: ["start-and-check"],
  settles: ["recovery.missing", "recovery.too-old", "verification.missing"],
  needs: [
    suitsModel,
    notWithdrawn,
    throughDownload,
    downloadRecorded,
    recoveryFits,
    bringsVerification,
    slotsForAll,
    bootloaderUnlocked,
    signedOut,
    firmwareSafe,
    firmwareFits,
    stockUnder,
    notThisRecovery,
    verificationOfBuild,
  ],
  apply: (s, { image }) =>
    after(s, {
      recovery: image.id,
      verification: "off",
      storage: "clean",
      // Data was formatted for a system that is still the old one; what is installed next is what starts.
      started: "fresh",
      whole: false,
      assumed: settled(s.assumed, ["recovery.image", "verification.off"]),
    }),
  // The keys at the right second are what goes wrong here: common practice, no source.
  cost: (e, d) => ({
    handsOn: 14,
    unattended: 4,
    failure: failureOf(e, 0.07),
    wipes: 1,
    irreversible: fuseOf(d),
  }),
  caution: (_e, device) => {
    const [fuse] = fuseOf(device);
    return fuse ? `The first foreign image blows the device's fuse for good: ${fuse}` : null;
  },
  steps: writeRecoverySteps,
});

const installFromRecovery = imageOperation("install-gsi-recovery", "gsi", {
  says: "Install the generic system image from the recovery",
  installs: "generic",
  keepsBase: true,
  needs: [...SUITS_AS_GENERIC, throughDownload, ...MAY_BE_WRITTEN_OVER, recoveryWritesImages, imageFits],
  // Formatted from the recovery, once more, behind it.
  apply: (s, entry) => behindGeneric(s, entry, "clean"),
  cost: (e, d, policy) => ({
    handsOn: 8,
    unattended: Math.max(3, writeMinutes(e.bytes, d)),
    failure: flavourFailure(e, d, policy),
    wipes: 1,
  }),
  caution: callsCaution,
  steps: imageFromRecoverySteps,
});

const installFromStick = imageOperation("install-gsi-stick", "gsi", {
  says: "Install the generic system image from a stick, in the recovery that is on it",
  installs: "generic",
  keepsBase: true,
  // The recovery was written earlier, on another day: now a stick is enough.
  withoutComputer: true,
  needs: [
    ...SUITS_AS_GENERIC,
    through("fastboot", "download-mode"),
    noComputer,
    ...MAY_BE_WRITTEN_OVER,
    recoveryWritesImages,
    imageFits,
  ],
  apply: (s, entry) => behindGeneric(s, entry, "clean"),
  cost: (e, d, policy) => ({ handsOn: 12, unattended: 6, failure: flavourFailure(e, d, policy), wipes: 1 }),
  caution: callsCaution,
  steps: imageFromStickSteps,
});

const flashTars = imageOperation("flash-tars", "stock", {
  says: "Write the stock package with the flasher, in download mode",
  installs: "stock",
  next: ["start-and-check", "write-recovery"],
  follows: ["unlock-download"],
  settles: [
    "firmware.too-old",
    "firmware.dangerous",
    "downgrade.via-stock",
    "gsi.needs-stock-base",
    "download.other-build",
  ],
  needs: [
    suitsModel,
    notWithdrawn,
    throughDownload,
    writtenBy("flasher"),
    downloadRecorded,
    slotsForAll,
    hasWipeEdition,
    regionFits,
    modelNumberFits,
    fuseFits,
    bringsNoDanger,
    signedOut,
    noRollback,
  ],
  // The wipe takes a switch in the developer options with it; what is unlocked stays so.
  apply: (s, entry, device) => after(behindStock(s, entry, device), { permission: s.locked ? "none" : s.permission }),
  cost: (e, d) => ({ handsOn: 8, unattended: stockMinutes(e, d) + 5, failure: failureOf(e, 0.04), wipes: 1 }),
  caution: notWholeCaution,
  steps: flashTarsSteps,
});

/** E and a part of F: what is done in the maker's download mode, with a flasher that has a window. */
export const downloadMode = {
  id: "download-mode",
  says: "Download mode",
  operations: [unlockInDownload, writeRecovery, installFromRecovery, installFromStick, flashTars],
  hands: [
    "keys.download",
    "download.unlock",
    "download.look",
    "android.see-toggle",
    "keys.download-to-recovery",
    "recovery.encryption-off",
    "recovery.wipe-keys",
    "recovery.restart-recovery",
    "recovery.install-image.",
    "stick.plug-in.",
  ],
} as const satisfies WayFamily;
