import { firmwareInRange } from "~/core/android/firmwareVersion";
import { neededAndGone, resetPackages } from "./packages/effects";
import { type Content, contentOf, kindOf, note, type PhoneReport, type PhoneState, slotted } from "./state";

const STOCK: ReadonlySet<string> = new Set(["stock", "official-update"]);

/** True when everything the maker checks at a locked start is the maker's own: the active slot and what has no slot. */
export function whollyStock(state: PhoneState): boolean {
  return Object.entries(state.partitions).every(
    ([name, c]) => c === null || STOCK.has(c.kind) || (/_[ab]$/.test(name) && !name.endsWith(`_${state.slot}`)),
  );
}

/**
 * Why the phone would not start, or null when it would.
 *
 * @source AOSP verified boot and first-stage mount, as far as volunteers meet them; the rest common practice, no source
 */
export function whyNotStarting(state: PhoneState): string | null {
  if (!state.alive) return "the board is dead";
  const system = contentOf(state, "system");
  const boot = contentOf(state, "boot");
  if (!system) return "there is no system on the active slot";
  if (!boot) return "there is no boot image on the active slot";
  if (system.spoiled) return system.spoiled;
  for (const row of state.loader?.rows ?? []) {
    if (row === "userdata") continue;
    const content = state.partitions[row];
    if (!content) return `${row} is empty`;
    if (content.spoiled) return content.spoiled;
  }
  const kind = kindOf(system);
  for (const part of ["boot", "dtbo", "vendor_boot"]) {
    const content = contentOf(state, part);
    if (content?.devices.length && !content.devices.includes(state.codename)) return `${part} is of another model`;
  }
  // A verification partition that was emptied vouches for nothing.
  if (slotted(state, "vbmeta") in state.partitions && contentOf(state, "vbmeta") === null)
    return "the verification partition is empty";
  if (state.locked && !whollyStock(state)) return "the bootloader is locked and the system is not the maker's";
  if (kind === "stock") {
    if (boot.build !== system.build) return "boot image and system are of different builds";
    const vbmeta = contentOf(state, "vbmeta");
    if (vbmeta && vbmeta.build !== system.build) return "the verification file is of another build";
    if (state.logical && !(slotted(state, "product") in state.logicalSizes)) return "the product partition is gone";
    const odd = ["dtbo", "vendor_boot", "product", "region", "bootloader"].find((p) => {
      const content = contentOf(state, p);
      return content !== null && content.build !== system.build;
    });
    if (odd) return `${odd} is of another build`;
  }
  if (kind === "custom" && boot.image !== system.image) return "boot image and ROM do not belong together";
  if (kind === "generic") {
    if (!state.treble) return "there is no vendor interface for a generic image";
    if (system.cpu && system.cpu !== state.cpu) return "the image is for another processor";
    if (!STOCK.has(boot.kind)) return "a generic image needs the maker's boot image";
    const vbmeta = contentOf(state, "vbmeta");
    if (!vbmeta?.verificationOff) return "verification is on, and the system is not the maker's";
    if (vbmeta.build !== boot.build) return "the verification file is of another build";
    if (system.api < boot.api) return "the generic image is older than the vendor part";
    const left = ["dtbo", "vendor_boot", "product"].find((p) => {
      const content = contentOf(state, p);
      return content !== null && content.build !== boot.build;
    });
    if (left) return `${left} was left from another build`;
  }
  const gone = kind === "stock" ? neededAndGone(state.packages) : null;
  if (gone) return `${gone} was taken away, and nothing starts without it`;
  if (state.data && (state.data.kind !== kind || state.data.api > system.api))
    return "the data partition was made by another system: it must be formatted";
  if (state.metadata && (state.metadata.kind !== kind || state.metadata.api > system.api))
    return "the keys in metadata are of another system: erase metadata too";
  return null;
}

/** Starts the system from the active slot. */
export function startSystem(state: PhoneState) {
  if (!state.alive) return;
  state.justErased = false;
  const why = whyNotStarting(state);
  if (why) {
    state.mode = "bootloop";
    note(state, `does not start: ${why}`);
    return;
  }
  if (state.tempers.hangsAtFirstBoot) {
    state.tempers.hangsAtFirstBoot = false;
    state.mode = "bootloop";
    note(state, "hangs at the animation");
    return;
  }
  const system = contentOf(state, "system") as Content;
  state.mode = "android";
  state.data ??= { kind: kindOf(system), api: system.api, donor: false };
  state.data = { ...state.data, api: system.api };
  if (state.treble) state.metadata = { kind: kindOf(system), api: system.api };
  note(state, `started ${system.image} (Android ${system.release})`);
  state.fresh = false;
  // The maker's system encrypts at its start, whatever somebody switched off before.
  if (kindOf(system) === "stock" && state.encryption.kind !== null)
    state.encryption = { ...state.encryption, on: true, ran: 0 };
  const recovery = contentOf(state, "recovery");
  const boot = contentOf(state, "boot");
  if (state.restoresRecovery && kindOf(system) === "stock" && recovery && !STOCK.has(recovery.kind) && boot) {
    state.partitions[slotted(state, "recovery")] = { ...boot, size: 4096 };
    note(state, "the stock system put its own recovery back");
  }
}

/**
 * Wipes user data. `formats` makes new keys; a mere wipe leaves those of the system that made them.
 *
 * @param proper from Settings, signed in: the account is released with it
 * @param keepsMetadata only the data partition is erased: the keys in metadata stay
 */
export function wipeData(state: PhoneState, formats: boolean, { proper = false, keepsMetadata = false } = {}) {
  state.wipes++;
  if (formats) {
    state.data = null;
    if (!keepsMetadata) state.metadata = null;
  } else if (state.data) state.data = { ...state.data, donor: false };
  state.debugging = false;
  state.authorised = false;
  state.storage = {};
  resetPackages(state.packages);
  if (state.accounts) {
    if (proper) state.accounts = false;
    else {
      state.accountLock = true;
      note(state, "wiped with an account still on it: the earlier account is asked for");
    }
  }
}

/** True when the installed firmware kills the board under foreign writes. */
export function firmwareDangerous(state: PhoneState): boolean {
  return state.dangerous.some((range) => firmwareInRange(state.firmwareOrder, state.firmware, range) !== false);
}

/**
 * Writes content into a partition. A board on dangerous firmware dies of anything that is not the maker's.
 *
 * @returns what the bootloader says when it refuses, or null
 */
export function writePartition(state: PhoneState, partition: string, content: Content): string | null {
  if (!STOCK.has(content.kind) && firmwareDangerous(state)) {
    state.alive = false;
    note(state, `wrote ${content.image} on firmware ${state.firmware}: the board is dead`);
    return "Flash write failure";
  }
  if (partition.startsWith("radio") && content.firmware) {
    const [now, next] = [state.firmwareOrder.indexOf(state.firmware), state.firmwareOrder.indexOf(content.firmware)];
    if (now >= 0 && next >= 0 && next < now) return "Anti-rollback check failed";
    if (partition === slotted(state, "radio")) state.firmware = content.firmware;
  }
  state.partitions[partition] = content;
  note(state, `wrote ${content.image} to ${partition}`);
  return null;
}

export function reportOf(state: PhoneState): PhoneReport {
  const system = contentOf(state, "system");
  const why = whyNotStarting(state);
  const kind = system ? kindOf(system) : null;
  const foreign = state.data !== null && system !== null && (state.data.kind !== kind || state.data.api > system.api);
  return {
    alive: state.alive,
    boots: why === null && state.mode !== "bootloop",
    release: system?.release ?? null,
    api: system?.api ?? null,
    image: system?.image ?? null,
    bootloader: state.locked ? "locked" : "unlocked",
    slot: state.slot,
    storage: foreign ? "must-format" : state.data?.donor ? "donor" : "clean",
    wipes: state.wipes,
    accountLock: state.accountLock,
    services: state.partitions.services != null,
    mode: state.mode,
    trail: state.trail,
  };
}
