import { asClause } from "~/core/catalogue/clause";
import { HARDWARE_WORDS } from "~/core/catalogue/common";
import {
  bootloaderUnlocked,
  firmwareFits,
  firmwareSafe,
  notRunningAlready,
  notWithdrawn,
  rootAllowed,
  signedOut,
  suitsModel,
} from "../common/rules";
import { failureOf, imageOperation, type WayFamily } from "../operation";
import { behindRom } from "../recovery-packages/behindRom";
import { packageFits, recoveryInstalls, romFits } from "../recovery-packages/rules";
import { isPort, portBase } from "./rules";
import { installPortSteps } from "./steps";

const installPort = imageOperation("install-port", "rom", {
  says: "Install another model's system",
  installs: "custom",
  next: ["format-data"],
  follows: ["flash-recovery", "write-recovery", "install-firmware-pack"],
  needs: [
    suitsModel,
    notWithdrawn,
    rootAllowed,
    isPort,
    romFits,
    packageFits,
    notRunningAlready,
    bootloaderUnlocked,
    signedOut,
    firmwareSafe,
    firmwareFits,
    recoveryInstalls,
    portBase,
  ],
  apply: (s, entry) => behindRom(s, entry, "must-format"),
  cost: (e) => ({ handsOn: 12, unattended: 10, failure: failureOf(e, 0.15), wipes: 1 }),
  caution: ({ image }) => {
    const never = image.faults.map((f) => asClause(HARDWARE_WORDS[f.hardware]));
    return `It was built for ${image.port?.name ?? "another model"}: the device names itself so afterwards${never.length ? `, and ${[...new Set(never)].join(" and ")} may never work on it` : ""}`;
  },
  steps: installPortSteps,
});

/** H: the system of another model, on its exact base. */
export const port = {
  id: "port",
  says: "Port of another model's system",
  operations: [installPort],
  hands: ["recovery.install-queued."],
} as const satisfies WayFamily;
