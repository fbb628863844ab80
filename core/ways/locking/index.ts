import { wantUnlocked } from "~/core/runbook/commonSteps";
import { after } from "~/core/upgrade/state";
import { bootloaderUnlocked, firmwareSafe, throughFastboot } from "../common/rules";
import { operation, type WayFamily } from "../operation";
import { relockOffered, whollyStock } from "./rules";

const relock = operation("relock", {
  says: "Lock the bootloader again",
  needs: [relockOffered, throughFastboot, bootloaderUnlocked, firmwareSafe, whollyStock],
  apply: (s) => after(s, { locked: true, storage: "clean" }),
  cost: () => ({ handsOn: 4, unattended: 3, failure: 0.01, wipes: 1 }),
  caution: () =>
    "Locking it again wipes it once more; it is offered only because the whole stock package was written and has started",
  steps: ({ bench }) => {
    bench.toBootloader();
    wantUnlocked(bench);
    bench.command("fastboot", bench.model.unlock.command.replace("unlock", "lock").split(" "), {
      title: "Lock the bootloader again",
      says: "Only because the device is wholly stock and has just started well. This wipes it once more.",
      normal: "The device asks on its screen",
      otherwise: "If it refuses, leave it unlocked and note the message",
      usual: 10,
      latest: 60,
      caution:
        "Locking a device with anything modified on it kills it. Everything on this one was written from the maker's package in this run, and it has started. Locking wipes it again",
    });
    bench.hands("bootloader.confirm-lock", {
      title: "Confirm locking on the device",
      says: "Choose “lock” with the volume keys, confirm with the power key.",
      normal: "The start screen says locked",
      otherwise: "If it warns of a foreign system, choose “do not lock” and stop",
      usual: 60,
      latest: 300,
    });
    bench.wantVar("unlocked", "no", "bootloader locked", "It is still unlocked: note the message and stop", {
      key: "bootloader.locked",
      title: "Check: locked again",
    });
  },
});

/** L: locking a device that is the maker's own again. */
export const locking = {
  id: "locking",
  says: "Locking again",
  operations: [relock],
  hands: ["bootloader.confirm-lock"],
} as const satisfies WayFamily;
