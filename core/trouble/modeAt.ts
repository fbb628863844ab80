import type { Step } from "~/core/runbook/step";
import type { DeviceMode } from "~/core/runbook/stepWriter";

/** Steps that bring a device into a mode, by the beginning of their code; the last that was done counts. */
const MOVES: readonly (readonly [RegExp, DeviceMode])[] = [
  [/^(keys\.bootloader|adb\.reboot-bootloader|fastboot\.reboot-bootloader)/, "bootloader"],
  [/^fastboot\.reboot-fastboot/, "userspace"],
  [/^(keys\.recovery|fastboot\.reboot-recovery|keys\.download-to-recovery|recovery\.)/, "recovery"],
  [/^(keys\.download$|adb\.reboot-download|download\.look)/, "download"],
  [/^keys\.loader/, "loader"],
  [/^(android\.authorise-computer)/, "android"],
  [/^(fastboot\.reboot$|recovery\.start-system|check\.started|android\.)/, "android-without-debugging"],
];

/**
 * The mode a device should be in at a step of a sheet, by the steps before it.
 *
 * @param place of the open step; what comes before it is done
 */
export function modeAt(steps: readonly Pick<Step, "code">[], place: number): DeviceMode {
  for (let i = Math.min(place, steps.length) - 1; i >= 0; i--) {
    const { code } = steps[i];
    // The way out of a recovery is one of its own steps.
    const found = MOVES.find(([pattern]) => pattern.test(code.replace(/#\d+$/, "")));
    if (!found) continue;
    return /^recovery\.start-system/.test(code) ? "android-without-debugging" : found[1];
  }
  return "off";
}
