import { after } from "~/core/upgrade/state";
import {
  bootloaderUnlocked,
  bringsNoDanger,
  noRollback,
  notWithdrawn,
  signedOut,
  suitsModel,
  throughFastboot,
} from "../common/rules";
import { failureOf, imageOperation, operation, type WayFamily } from "../operation";
import { behindStock, notWholeCaution, stockMinutes } from "./behindStock";
import { freshStock, modelNumberFits, regionFits, writable, writtenBy } from "./rules";
import { flashStockSteps, startAndCheckSteps } from "./steps";

const flashStock = imageOperation("flash-stock", "stock", {
  says: "Flash the stock package",
  installs: "stock",
  next: ["start-and-check", "flash-recovery", "flash-verification", "remove-product", "install-gsi"],
  settles: ["firmware.too-old", "firmware.dangerous", "downgrade.via-stock", "gsi.needs-stock-base"],
  needs: [
    suitsModel,
    notWithdrawn,
    throughFastboot,
    writtenBy("parts"),
    writable,
    regionFits,
    modelNumberFits,
    bringsNoDanger,
    bootloaderUnlocked,
    signedOut,
    noRollback,
  ],
  apply: behindStock,
  // The script's questions and look at the end, about five minutes of writing or what the write rate gives.
  cost: (e, d) => ({
    handsOn: 4,
    unattended: stockMinutes(e, d),
    failure: failureOf(e, 0.03),
    wipes: 1,
  }),
  caution: notWholeCaution,
  steps: flashStockSteps,
});

const startAndCheck = operation("start-and-check", {
  says: "Start it and test Wi-Fi and mobile",
  withoutComputer: true,
  next: ["relock", "take-update", "factory-reset"],
  needs: [freshStock],
  // The set-up was walked through: the workshop's Wi-Fi is on it until it is reset or locked.
  apply: (s) => after(s, { started: "running", storage: "workshop" }),
  cost: () => ({ handsOn: 6, unattended: 5, failure: 0.005 }),
  steps: startAndCheckSteps,
});

/** F: the maker's own package, written part by part. */
export const stockPackage = {
  id: "stock-package",
  says: "Maker's stock package",
  operations: [flashStock, startAndCheck],
  hands: ["check.started", "android.finish-setup", "keys.bootloader"],
} as const satisfies WayFamily;
