import { after } from "~/core/upgrade/state";
import { notWithdrawn, storageWants, suitsModel } from "../common/rules";
import { failureOf, imageOperation, type WayFamily } from "../operation";
import { cleaningWanted, notCleanedYet, sameBuild, stockToClean, takesNothingKept } from "./rules";
import { cleanStockSteps } from "./steps";

const cleanStock = imageOperation("clean-stock", "package-list", {
  says: "Clean the stock system",
  keepsSystem: true,
  keepsBase: true,
  // Right after a fresh reset, before anybody walks through the set-up.
  follows: ["factory-reset"],
  needs: [
    suitsModel,
    notWithdrawn,
    cleaningWanted,
    takesNothingKept,
    stockToClean,
    notCleanedYet,
    sameBuild,
    storageWants("clean"),
  ],
  apply: (s, { image }) => after(s, { cleaned: image.id }),
  // Set-up skipped, two apps in, a minute for six packages, two tries: common practice, no source.
  cost: (e) => ({
    handsOn: 14,
    unattended: 4 + (e.image.packages?.remove.length ?? 0) / 6,
    failure: failureOf(e, 0.05),
  }),
  caution: ({ image }) =>
    `The next update or reset brings ${image.packages?.remove.length ?? 0} removed packages back. What is taken away is kept with the device, and can be put back`,
  steps: cleanStockSteps,
});

/** I: for devices that no image brings up, or that can't be unlocked; and as an extra on any stock end. */
export const cleanedStock = {
  id: "cleaned-stock",
  says: "Stock system cleaned",
  operations: [cleanStock],
  hands: ["android.skip-setup", "check.home-works", "check.home-comes", "android.debugging-off"],
} as const satisfies WayFamily;
