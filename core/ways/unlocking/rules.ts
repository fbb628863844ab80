import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { rule } from "~/core/upgrade/rule";
import type { PlanState } from "~/core/upgrade/state";

export const bootloaderLocked = rule(["locked", "assumed"], ({ state }) => {
  if (state.assumed.includes("bootloader.locked")) return unknown("bootloader.unknown", "bootloader.locked");
  return state.locked ? HOLDS : fails("bootloader.unlocked", "The bootloader is already unlocked");
});

export const unlockPossible = rule([], ({ device }) =>
  device.model.open.includes("unlock")
    ? unknown("model.open", "unlock.ability")
    : device.model.unlock.possible
      ? HOLDS
      : fails("unlock.impossible", device.model.unlock.says || "The maker does not let the bootloader be unlocked"),
);

export const permission = (wanted: PlanState["permission"]) =>
  rule(["permission"], ({ state }) =>
    state.permission === wanted
      ? HOLDS
      : wanted === "granted"
        ? fails("unlock.permission", "Unlocking has not been allowed in the developer options yet")
        : fails("order.wrong-moment", "The unlock permission is already asked for"),
  );
