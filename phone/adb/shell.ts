import { installLabelled } from "~/phone/packages/install";
import { type Answer, managePackages } from "~/phone/packages/manager";
import { contentOf, type PhoneState } from "~/phone/state";

/** The properties Android and the recovery tell. */
export function propertiesOf(state: PhoneState): Record<string, string> {
  const system = contentOf(state, "system");
  const boot = contentOf(state, "boot");
  return {
    "ro.serialno": state.serial,
    "ro.product.manufacturer": state.maker,
    // A port names the model it was built for.
    "ro.product.model": system?.port?.modelNumber ?? state.modelNumber,
    "ro.product.device": system?.port?.codename ?? state.codename,
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

/** Answers a line that `adb shell` sends: commands one after the other, or one where the other failed. */
export function shell(state: PhoneState, line: string): string {
  // Older clients send what is typed in quotes as it stands; a shell takes the quotes away.
  return line
    .replace(/^'(.*)'$/s, "$1")
    .split(/;\s*/)
    .map((command) => {
      let text = "";
      for (const part of command.split(/\s*\|\|\s*/)) {
        const said = answer(state, part.trim());
        text += said.text;
        if (said.ok) break;
      }
      return text;
    })
    .join("");
}

const said = (text: string): Answer => ({ text, ok: true });

function answer(state: PhoneState, command: string): Answer {
  const words = command.split(/\s+/).map((w) => w.replace(/^'(.*)'$/, "$1"));
  if (command === "uname -m") return said(state.cpu === "arm64" ? "aarch64\n" : "armv7l\n");
  if (command === "dumpsys battery") return said(battery(state));
  if (command === "cat /proc/meminfo")
    return said(`MemTotal:        3901234 kB\nMemFree:          102400 kB\nMemAvailable:    ${freeMemory(state)} kB\n`);
  if (words[0] === "df")
    return said(
      `Filesystem     1K-blocks    Used Available Use% Mounted on\n/dev/block/dm-2  25034192 ${25_034_192 - freeStorage(state)} ${freeStorage(state)}  20% ${words[1] ?? "/data"}\n`,
    );
  if (words[0] === "rm") {
    delete state.storage[words.at(-1) ?? ""];
    return said("");
  }
  if (state.mode === "android") {
    if (words[0] === "pm" && words[1] === "install") return installPushed(state, words.at(-1) ?? "");
    if (words[0] === "settings" && words[3] === "default_input_method")
      return said(`${componentOf(state, state.packages.keyboard) ?? "null"}\n`);
    const managed = managePackages(state.packages, words);
    if (managed) return managed;
  }
  const properties = propertiesOf(state);
  if (command === "getprop")
    return said(
      Object.entries(properties)
        .map(([key, value]) => `[${key}]: [${value}]\n`)
        .join(""),
    );
  const one = /^getprop\s+'?([\w.]+)'?$/.exec(command);
  if (one) return said(`${properties[one[1]] ?? ""}\n`);
  return { text: `/system/bin/sh: ${words[0]}: not found\n`, ok: false };
}

const componentOf = (state: PhoneState, name: string | null) => (name && state.packages.all[name]?.component) || null;

/** What an older client does: the file was pushed before. */
function installPushed(state: PhoneState, path: string): Answer {
  const content = state.storage[path];
  const text = content ? installLabelled(state, content) : "Failure [INSTALL_FAILED_INVALID_URI]\n";
  return { text, ok: text.startsWith("Success") };
}

function battery(state: PhoneState): string {
  const level = state.battery;
  // The lead charges it a little with every minute that somebody asks.
  state.battery = Math.min(100, level + 1);
  return `Current Battery Service state:\n  AC powered: false\n  USB powered: true\n  status: 2\n  level: ${level}\n  scale: 100\n  voltage: ${3400 + level * 9}\n`;
}

const installed = (state: PhoneState) => Object.values(state.packages.all).filter((p) => p.user).length;
/** Every package takes its share: 20 MB of memory, 60 MB of storage. */
const freeMemory = (state: PhoneState) => 2_400_000 - installed(state) * 20_000;
const freeStorage = (state: PhoneState) => 20_000_000 - installed(state) * 60_000;
