import {
  bootloaderUnlocked,
  bringsNoDanger,
  noRollback,
  notWithdrawn,
  signedOut,
  suitsModel,
  throughFastboot,
} from "../common/rules";
import { failureOf, imageOperation, type WayFamily } from "../operation";
import { behindStock, notWholeCaution, stockMinutes } from "../stock-package/behindStock";
import { modelNumberFits, regionFits, writable, writtenBy } from "../stock-package/rules";
import { doesNotLock, hasItsFiles, isUnderstood } from "./rules";
import { makerScriptSteps } from "./steps";

const runMakerScript = imageOperation("run-maker-script", "stock", {
  says: "Write the stock package as the maker's script says",
  installs: "stock",
  next: ["start-and-check", "flash-recovery", "flash-verification", "remove-product", "install-gsi"],
  follows: ["unlock"],
  settles: ["firmware.too-old", "firmware.dangerous", "downgrade.via-stock", "gsi.needs-stock-base"],
  needs: [
    suitsModel,
    notWithdrawn,
    throughFastboot,
    writtenBy("script"),
    doesNotLock,
    isUnderstood,
    hasItsFiles,
    writable,
    regionFits,
    modelNumberFits,
    bringsNoDanger,
    bootloaderUnlocked,
    signedOut,
    noRollback,
  ],
  apply: behindStock,
  cost: (e, d) => ({ handsOn: 6, unattended: stockMinutes(e, d), failure: failureOf(e, 0.04), wipes: 1 }),
  caution: notWholeCaution,
  steps: makerScriptSteps,
});

/** F: the maker's own bootloader script, read line by line and run as steps of the lane's own. */
export const makerScript = {
  id: "maker-script",
  says: "Maker's bootloader script",
  operations: [runMakerScript],
  hands: [],
} as const satisfies WayFamily;
