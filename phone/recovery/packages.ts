import { compareFirmware, firmwareInRange } from "~/core/android/firmwareVersion";
import type { Seen } from "~/phone/acts";
import { writePartition } from "~/phone/boot";
import { type Content, contentOf, note, type PhoneState, slotted } from "~/phone/state";

/** Installs a package from a recovery, as its script would. */
export function installPackage(state: PhoneState, content: Content, recovery: Content): Seen {
  if (content.devices.length && !content.devices.includes(state.codename))
    return `Error 7: this package is for ${content.devices.join(", ")}, this device is ${state.codename}`;
  const inRange = firmwareInRange(state.firmwareOrder, state.firmware, {
    from: content.firmwareFrom,
    to: content.firmwareTo,
  });
  if (inRange === false) return `Error 7: firmware ${state.firmware} is not supported`;
  if (content.recoveryVersion && (compareFirmware([], recovery.version, content.recoveryVersion) ?? -1) < 0)
    return `Error 7: this recovery is too old`;
  if (content.kind === "firmware-pack") {
    if (content.firmware && compareFirmware(state.firmwareOrder, content.firmware, state.firmware) !== null)
      state.firmware = content.firmware;
    note(state, `installed ${content.image}: firmware ${state.firmware}`);
    return null;
  }
  if (content.kind === "services") {
    const system = contentOf(state, "system");
    if (!system) return "Error 70: there is no system to add to";
    if (content.cpu && content.cpu !== state.cpu) return "Error 64: wrong processor";
    if (content.release !== system.release) return "Error 20: wrong Android version";
    state.partitions.services = content;
    if (!state.fresh) system.spoiled = "the services add-on went on after the first start: the set-up crashes for ever";
    note(state, `installed ${content.image}`);
    return null;
  }
  if (content.kind !== "rom") return "This is not a package";
  if (content.size > (state.rooms.system ?? 0)) return "Error 7: not enough room";
  const spoiled =
    content.installs === "sideload" && recovery.release !== content.release
      ? `installed through the recovery of Android ${recovery.release}`
      : null;
  for (const name of ["system", "boot"]) {
    const refused = writePartition(state, slotted(state, name), { ...content, spoiled });
    if (refused) return refused;
  }
  state.partitions.services = null;
  state.fresh = true;
  return null;
}
