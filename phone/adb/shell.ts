import { contentOf, type PhoneState } from "~/phone/state";

/** The properties Android and the recovery tell. */
export function propertiesOf(state: PhoneState): Record<string, string> {
  const system = contentOf(state, "system");
  const boot = contentOf(state, "boot");
  return {
    "ro.serialno": state.serial,
    "ro.product.manufacturer": state.maker,
    "ro.product.model": state.modelNumber,
    "ro.product.device": state.codename,
    "ro.product.board": state.board,
    "ro.product.cpu.abi": state.cpu === "arm64" ? "arm64-v8a" : "armeabi-v7a",
    "ro.build.version.release": system?.release ?? "",
    "ro.build.version.sdk": system ? String(system.api) : "",
    "ro.build.display.id": system?.build ?? "",
    "ro.build.version.security_patch": system?.patch ?? "",
    "ro.treble.enabled": String(state.treble),
    "gsm.version.baseband": state.firmware,
    ...(state.launchApi ? { "ro.product.first_api_level": String(state.launchApi) } : {}),
    "ro.vendor.build.version.release": boot?.release ?? "",
    "ro.vendor.build.security_patch": boot?.patch ?? "",
    "ro.boot.flash.locked": state.locked ? "1" : "0",
    "ro.boot.vbmeta.device_state": state.locked ? "locked" : "unlocked",
    "ro.boot.verifiedbootstate": state.locked ? "green" : "orange",
    "ro.boot.veritymode": contentOf(state, "vbmeta")?.verificationOff ? "disabled" : "enforcing",
    "sys.oem_unlock_allowed": state.permission === "granted" ? "1" : "0",
    ...(state.slots ? { "ro.boot.slot_suffix": `_${state.slot}` } : {}),
  };
}

/** Answers a line that `adb shell` sends: commands one after the other, as far as this phone knows them. */
export function shell(state: PhoneState, line: string): string {
  return line
    .split(/;\s*/)
    .map((command) => answer(state, command))
    .join("");
}

function answer(state: PhoneState, command: string): string {
  const properties = propertiesOf(state);
  if (command === "uname -m") return state.cpu === "arm64" ? "aarch64\n" : "armv7l\n";
  if (command === "dumpsys battery") {
    const level = state.battery;
    // The lead charges it a little with every minute that somebody asks.
    state.battery = Math.min(100, level + 1);
    return `Current Battery Service state:\n  AC powered: false\n  USB powered: true\n  status: 2\n  level: ${level}\n  scale: 100\n  voltage: ${3400 + level * 9}\n`;
  }
  if (command === "getprop") {
    return Object.entries(properties)
      .map(([key, value]) => `[${key}]: [${value}]\n`)
      .join("");
  }
  const one = /^getprop\s+'?([\w.]+)'?$/.exec(command);
  return one ? `${properties[one[1]] ?? ""}\n` : `/system/bin/sh: ${command.split(" ")[0]}: not found\n`;
}
