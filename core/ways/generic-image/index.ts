import { after, settled } from "~/core/upgrade/state";
import { bootloaderUnlocked, firmwareSafe, notWithdrawn, suitsModel, throughFastboot } from "../common/rules";
import { failureOf, imageOperation, operation, type WayFamily, writeMinutes } from "../operation";
import { behindGeneric, callsCaution } from "./behindGeneric";
import { flavourFailure } from "./patching";
import {
  imageFits,
  imageFitsAtMost,
  MAY_BE_WRITTEN_OVER,
  productRemovable,
  SUITS_AS_GENERIC,
  verificationIsOff,
  verificationMatches,
  verificationMoment,
  verificationOn,
} from "./rules";
import { flashVerificationSteps, installGsiSteps, removeProductSteps } from "./steps";

const flashVerification = imageOperation("flash-verification", "verification", {
  says: "Flash the verification file, verification off",
  keepsBase: true,
  next: ["remove-product", "install-gsi", "format-data"],
  settles: ["verification.missing"],
  needs: [
    suitsModel,
    notWithdrawn,
    throughFastboot,
    bootloaderUnlocked,
    firmwareSafe,
    verificationOn,
    verificationMoment,
    verificationMatches,
  ],
  apply: (s) => after(s, { verification: "off", whole: false, assumed: settled(s.assumed, ["verification.off"]) }),
  cost: (e) => ({ handsOn: 2, unattended: 0, failure: failureOf(e, 0.01) }),
  steps: flashVerificationSteps,
});

const removeProduct = operation("remove-product", {
  says: "Remove the product partition",
  keepsBase: true,
  next: ["install-gsi"],
  needs: [throughFastboot, bootloaderUnlocked, firmwareSafe, productRemovable],
  apply: (s) =>
    after(s, {
      product: "removed",
      started: "broken",
      whole: false,
      assumed: settled(s.assumed, ["product.removed"]),
    }),
  cost: () => ({ handsOn: 2, unattended: 0, failure: 0.01 }),
  steps: removeProductSteps,
});

const installGsi = imageOperation("install-gsi", "gsi", {
  says: "Flash the generic system image",
  installs: "generic",
  keepsBase: true,
  next: ["flash-verification", "format-data"],
  needs: [...SUITS_AS_GENERIC, throughFastboot, ...MAY_BE_WRITTEN_OVER, verificationIsOff, imageFitsAtMost, imageFits],
  apply: (s, entry) => behindGeneric(s, entry, "must-format"),
  // 5–15 min over the lead by the handbook; the write rate decides within that.
  cost: (e, d, policy) => ({
    handsOn: 5,
    unattended: Math.max(5, Math.min(15, writeMinutes(e.expanded, d))),
    failure: flavourFailure(e, d, policy),
  }),
  caution: callsCaution,
  steps: installGsiSteps,
});

/** D: a generic system image through userspace fastboot or the bootloader. */
export const genericImage = {
  id: "generic-image",
  says: "Generic system image",
  operations: [flashVerification, removeProduct, installGsi],
  hands: [],
  together: [
    {
      about: "verification",
      beside: "stock",
      rule: verificationMatches,
      state: ({ image }) => (image.build ? { system: "stock", baseBuild: image.build, assumed: [] } : null),
      onlyIfGoes: true,
    },
    {
      about: "verification",
      beside: "official-update",
      rule: verificationMatches,
      state: ({ image }) => (image.build ? { system: "stock", baseBuild: image.build, assumed: [] } : null),
      onlyIfGoes: true,
    },
  ],
} as const satisfies WayFamily;
