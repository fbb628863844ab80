import { eraseData } from "~/core/runbook/commonSteps";
import { after } from "~/core/upgrade/state";
import { bootloaderUnlocked, signedOut, throughFastboot } from "../common/rules";
import { operation, type WayFamily } from "../operation";
import { doesNotStart, recoveryIsStock } from "./rules";

/** Animation over five minutes, or restarting again and again: data of another system (handbook, "When it goes wrong"). */
const formatToRescue = operation("format-to-rescue", {
  says: "Format data, so that the system may start again",
  keepsBase: true,
  next: ["start-and-check"],
  needs: [throughFastboot, bootloaderUnlocked, signedOut, doesNotStart],
  apply: (s) => after(s, { storage: "clean", started: "fresh" }),
  // Helps about as often as not: common practice, no source.
  cost: () => ({ handsOn: 5, unattended: 6, failure: 0.45, wipes: 1 }),
  steps: ({ bench }) => {
    bench.toBootloader();
    eraseData(bench);
  },
});

const resetByKeys = operation("reset-by-keys", {
  says: "Factory reset in the maker's recovery",
  keepsBase: true,
  withoutComputer: true,
  next: ["start-and-check"],
  needs: [recoveryIsStock, signedOut, doesNotStart],
  apply: (s) => after(s, { storage: "clean", started: "fresh" }),
  cost: () => ({ handsOn: 6, unattended: 8, failure: 0.45, wipes: 1 }),
  steps: ({ bench }) => {
    bench.keysToRecovery("the maker's own recovery");
    bench.hands("recovery.factory-reset", {
      title: "Factory reset in the recovery",
      says: "In the maker's recovery: wipe data, factory reset. Confirm with the power key.",
      normal: "Data wipe complete",
      otherwise: "No menu, only a fallen robot: hold power and press volume up once",
      usual: 120,
      latest: 900,
    });
  },
});

/** L: what is tried first on a device that does not start any more. The stock package and the rest are ways of their own. */
export const rescue = {
  id: "rescue",
  says: "Rescue",
  operations: [formatToRescue, resetByKeys],
  hands: ["recovery.factory-reset"],
} as const satisfies WayFamily;
