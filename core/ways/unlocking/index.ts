import { after, settled } from "~/core/upgrade/state";
import { systemStarts, through, throughFastboot } from "../common/rules";
import { operation, type WayFamily } from "../operation";
import { bootloaderLocked, permission, unlockPossible } from "./rules";
import { allowSteps, unlockSteps, waitSteps } from "./steps";

const allowUnlock = operation("allow-unlock", {
  says: "Allow unlocking in the developer options",
  opens: true,
  next: ["wait-unlock", "unlock"],
  // A maker's package that a locked device takes may come before it.
  follows: ["start-and-check"],
  settles: ["unlock.permission"],
  needs: [unlockPossible, through("fastboot", "download-mode"), bootloaderLocked, permission("none"), systemStarts],
  apply: (s, _e, { model }) => after(s, { permission: model.unlock.waitingDays > 0 ? "asked" : "granted" }),
  cost: () => ({ handsOn: 3, unattended: 0, failure: 0.005 }),
  steps: allowSteps,
});

const waitUnlock = operation("wait-unlock", {
  says: "Wait for the maker's unlock permission",
  opens: true,
  next: ["unlock"],
  settles: ["unlock.permission"],
  needs: [unlockPossible, permission("asked"), systemStarts],
  apply: (s) => after(s, { permission: "granted" }),
  cost: (_e, { model }) => ({ handsOn: 2, unattended: 0, failure: 0.01, waitingDays: model.unlock.waitingDays }),
  steps: waitSteps,
});

const unlock = operation("unlock", {
  says: "Unlock the bootloader",
  opens: true,
  next: ["flash-stock", "flash-recovery", "flash-verification", "remove-product", "install-gsi"],
  settles: ["bootloader.locked"],
  needs: [bootloaderLocked, unlockPossible, throughFastboot, permission("granted"), systemStarts],
  apply: (s) =>
    after(s, {
      locked: false,
      storage: "clean",
      whole: false,
      // What was locked until now is the maker's own in every part.
      assumed: settled(s.assumed, ["bootloader.locked", "recovery.image", "verification.off", "product.removed"]),
    }),
  cost: (_e, { model }) => ({
    handsOn: 4,
    unattended: 3,
    failure: 0.01,
    wipes: 1,
    irreversible: model.unlock.consequences,
  }),
  steps: unlockSteps,
});

/** What opens a device for everything that the maker did not sign. */
export const unlocking = {
  id: "unlocking",
  says: "Unlocking",
  operations: [allowUnlock, waitUnlock, unlock],
  hands: [
    "android.allow-unlocking",
    "android.request-unlock",
    "android.wait-unlock",
    "android.remove-workshop-account",
    "bootloader.confirm-unlock",
  ],
} as const satisfies WayFamily;
