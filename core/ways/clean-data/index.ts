import { eraseData, formatInRecovery } from "~/core/runbook/commonSteps";
import { after } from "~/core/upgrade/state";
import { bootloaderUnlocked, firmwareSafe, signedOut, storageWants, systemStarts } from "../common/rules";
import { operation, type WayFamily } from "../operation";

const formatData = operation("format-data", {
  says: "Format data",
  keepsBase: true,
  needs: [bootloaderUnlocked, signedOut, storageWants("must-format")],
  apply: (s) => after(s, { storage: "clean" }),
  cost: () => ({ handsOn: 2, unattended: 1, failure: 0.005, wipes: 1 }),
  steps: ({ bench, recovery }) => {
    if (bench.mode === "recovery") formatInRecovery(bench);
    else if (bench.model.flash === "fastboot") eraseData(bench);
    else {
      bench.keysToRecovery(recovery?.title ?? "the recovery that is on it");
      formatInRecovery(bench);
    }
  },
});

const factoryReset = operation("factory-reset", {
  says: "Reset from Settings",
  keepsSystem: true,
  keepsBase: true,
  withoutComputer: true,
  needs: [systemStarts, storageWants("donor", "workshop"), firmwareSafe],
  apply: (s) => after(s, { storage: "clean" }),
  cost: () => ({ handsOn: 4, unattended: 8, failure: 0.005, wipes: 1 }),
  steps: ({ bench }) => {
    bench.hands("android.factory-reset", {
      title: "Reset from Settings",
      says: "Settings, System, Reset: erase everything. From Settings, never by keys: only so is the account released properly.",
      normal: "It restarts to the set-up screen, in the first language",
      otherwise: "If it asks for an earlier account afterwards, stop: the device goes back to Clearance",
      usual: 480,
      latest: 1200,
    });
    bench.mode = "android-without-debugging";
  },
});

/** Nobody's data on a device when it goes out. */
export const cleanData = {
  id: "clean-data",
  says: "Wiping",
  operations: [formatData, factoryReset],
  hands: ["android.factory-reset", "recovery.format-data"],
} as const satisfies WayFamily;
