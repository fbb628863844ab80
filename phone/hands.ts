import { compareFirmware, firmwareInRange } from "~/core/android/firmwareVersion";
import { startSystem, wipeData, writePartition } from "./boot";
import { confirmLock } from "./fastboot";
import { type Content, contentOf, kindOf, note, type PhoneState, slotted } from "./state";

/** What came of something done with fingers: null when it went well, else what the person sees. */
type Outcome = string | null;

const only = (state: PhoneState, mode: PhoneState["mode"], what: string): Outcome =>
  state.mode === mode ? null : `${what} is not on the screen: the device is in ${state.mode}`;

/** The recovery that starts: the content that carries it. */
export function runningRecovery(state: PhoneState): Content | null {
  return state.slots ? contentOf(state, "vendor_boot") : contentOf(state, "recovery");
}

const isForeignRecovery = (c: Content | null): c is Content => c !== null && c.kind === "recovery";

/**
 * Does with the phone what a person does with fingers.
 *
 * @param code a step code of the runbook, without its `#n`
 * @returns null when it worked, else what is wrong, in words
 */
export function actByHand(state: PhoneState, code: string): Outcome {
  if (!state.alive && !code.startsWith("check.label")) return "The device shows nothing any more";
  for (const [prefix, act] of ACTS)
    if (code === prefix || (prefix.endsWith(".") && code.startsWith(prefix)))
      return act(state, code.slice(prefix.length));
  return `Nobody knows how to do “${code}”`;
}

const nothing = (): Outcome => null;

const ACTS: readonly (readonly [string, (state: PhoneState, rest: string) => Outcome])[] = [
  ["check.label", nothing],
  ["check.battery", (s) => (s.battery >= 30 ? null : `The battery shows ${s.battery} %`)],
  ["confirm.irreversible", nothing],
  [
    "check.started",
    (s) =>
      s.mode === "android"
        ? s.accountLock
          ? "The set-up asks for the earlier owner's account"
          : null
        : `The set-up screen does not come: ${s.trail.at(-1) ?? s.mode}`,
  ],
  ["check.release", (s) => only(s, "android", "Settings")],
  [
    "android.remove-accounts",
    (s) => {
      const off = only(s, "android", "Settings");
      if (off) return off;
      if (s.accountLock) return "The set-up asks for the earlier owner's account";
      s.accounts = false;
      return null;
    },
  ],
  [
    "android.enable-debugging",
    (s) => {
      const off = only(s, "android", "Settings");
      if (off) return off;
      if (s.accountLock) return "The set-up asks for the earlier owner's account";
      s.debugging = true;
      return null;
    },
  ],
  [
    "android.authorise-computer",
    (s) => {
      if (!s.debugging) return "The device does not ask: debugging is off";
      s.authorised = true;
      return null;
    },
  ],
  [
    "android.allow-unlocking",
    (s) => {
      const off = only(s, "android", "Developer options");
      if (off) return off;
      if (!s.unlock.possible) return "There is no such switch on this device";
      s.permission = s.unlock.waitingDays > 0 ? "switched" : "granted";
      return null;
    },
  ],
  [
    "android.request-unlock",
    (s) => {
      if (s.permission !== "switched") return "Unlocking is not allowed in the developer options";
      s.permission = "asked";
      return null;
    },
  ],
  [
    "android.wait-unlock",
    (s) => {
      if (s.permission !== "asked") return "No permission was asked for";
      s.permission = "granted";
      note(s, `waited ${s.unlock.waitingDays} days`);
      return null;
    },
  ],
  ["android.take-update.", takeUpdate],
  [
    "android.factory-reset",
    (s) => {
      const off = only(s, "android", "Settings");
      if (off) return off;
      wipeData(s, true, true);
      note(s, "reset from Settings");
      startSystem(s);
      return null;
    },
  ],
  [
    "android.finish-setup",
    (s) =>
      only(s, "android", "The set-up") ?? (s.accountLock ? "The set-up asks for the earlier owner's account" : null),
  ],
  [
    "keys.bootloader",
    (s) => {
      s.mode = "bootloader";
      return null;
    },
  ],
  [
    "keys.recovery",
    (s) => {
      s.mode = "recovery";
      note(s, "started the recovery by keys");
      return null;
    },
  ],
  [
    "keys.start",
    (s) => {
      startSystem(s);
      return null;
    },
  ],
  ["bootloader.confirm-unlock", (s) => confirmLock(s, "unlock")],
  ["bootloader.confirm-lock", (s) => confirmLock(s, "lock")],
  [
    "recovery.backup-identity",
    (s) =>
      only(s, "recovery", "The recovery") ??
      (isForeignRecovery(runningRecovery(s)) ? null : "The stock recovery has no backup menu"),
  ],
  [
    "recovery.wipe-advanced",
    (s) => {
      const off = only(s, "recovery", "The recovery");
      if (off) return off;
      if (!isForeignRecovery(runningRecovery(s))) return "The stock recovery has no such menu";
      wipeData(s, false);
      s.partitions[slotted(s, "system")] = null;
      note(s, "wiped cache, dalvik, system, data");
      return null;
    },
  ],
  [
    "recovery.format-data",
    (s) => {
      const off = only(s, "recovery", "The recovery");
      if (off) return off;
      wipeData(s, true);
      note(s, "formatted data");
      return null;
    },
  ],
  ["recovery.install.", installFromStorage],
  [
    "recovery.apply-from-adb",
    (s) => {
      const off = only(s, "recovery", "The recovery");
      if (off) return off;
      s.mode = "sideload";
      return null;
    },
  ],
  ["recovery.install-more", (s) => only(s, "recovery", "The recovery")],
  [
    "recovery.start-system",
    (s) => {
      const off = only(s, "recovery", "The recovery");
      if (off) return off;
      startSystem(s);
      return null;
    },
  ],
];

const UPDATED = ["system", "boot", "vbmeta", "recovery", "product", "vendor_boot", "dtbo", "radio"];

function takeUpdate(state: PhoneState, image: string): Outcome {
  const off = only(state, "android", "Settings");
  if (off) return off;
  const system = contentOf(state, "system") as Content;
  const offer = state.offers.find((o) => o.image === image);
  if (!offer || kindOf(system) !== "stock") return "No update is offered";
  if (offer.fromReleases.length && !offer.fromReleases.includes(system.release))
    return "No update is offered for this version";
  // On a device with slots the update goes to the other slot, which then becomes the current one.
  const before = state.slot;
  const names = UPDATED.filter((name) => contentOf(state, name));
  const sizes = names.map((name) => contentOf(state, name)?.size ?? 4096);
  if (before) {
    state.slot = before === "a" ? "b" : "a";
    for (const name of ["system", "product"]) {
      const old = `${name}_${before}`;
      if (!(old in state.logicalSizes)) continue;
      state.logicalSizes[slotted(state, name)] = state.logicalSizes[old];
      delete state.logicalSizes[old];
      state.partitions[old] = null;
    }
  }
  names.forEach((name, i) => {
    state.partitions[slotted(state, name)] = { ...offer, size: sizes[i] };
  });
  if (offer.firmware) state.firmware = offer.firmware;
  note(state, `took the update ${image}`);
  startSystem(state);
  return null;
}

function installFromStorage(state: PhoneState, image: string): Outcome {
  const off = only(state, "recovery", "The recovery");
  if (off) return off;
  const recovery = runningRecovery(state);
  if (!isForeignRecovery(recovery) || recovery.flavour !== "custom")
    return "The stock recovery does not install this: signature verification failed";
  const content = Object.values(state.storage).find((c) => c.image === image);
  if (!content) return "There is no such file on the device";
  return installPackage(state, content, recovery);
}

/** Installs a package from a recovery, as its script would. */
export function installPackage(state: PhoneState, content: Content, recovery: Content): Outcome {
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
