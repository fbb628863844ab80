import { isSparse } from "~/core/files/sparse";
import { readStandIn } from "~/core/files/standIn";
import { startSystem, whollyStock, wipeData, writePartition } from "~/phone/boot";
import { writeIdentity } from "~/phone/identity";
import { baseName, HAS_SLOT, LOGICAL, note, type PhoneState } from "~/phone/state";

/** What the bootloader answers: lines of information, then OKAY or FAIL. */
export interface Reply {
  readonly info?: readonly string[];
  readonly ok: boolean;
  readonly text: string;
  /** The connection drops afterwards, because the device restarts. */
  readonly restarts?: boolean;
}

const okay = (text = ""): Reply => ({ ok: true, text });
const fail = (text: string): Reply => ({ ok: false, text });
const restart: Reply = { ok: true, text: "", restarts: true };

const PLAIN = ["boot", "vendor_boot", "dtbo", "vbmeta", "recovery", "radio", "bootloader"];
const USER = ["userdata", "metadata", "cache"];

/** Partitions this phone has in the mode it is in, with their room. */
function roomOf(state: PhoneState, partition: string): number | null {
  const name = baseName(partition);
  if (HAS_SLOT.has(name) && state.slots !== /_[ab]$/.test(partition)) return null;
  if (state.logical && LOGICAL.has(name))
    return state.mode === "userspace" ? (state.logicalSizes[partition] ?? null) : null;
  if (name === "metadata" && !state.treble) return null;
  if (name === "cache" && state.slots) return null;
  if (USER.includes(name)) return 1 << 30;
  if (name in state.identity) return 1 << 24;
  if (name === "super") return superRoom(state);
  if (!PLAIN.includes(name) && !LOGICAL.has(name)) return null;
  return state.rooms[name] ?? null;
}

const superRoom = (state: PhoneState) => (state.rooms.system ?? 0) + (state.rooms.product ?? 0);

/**
 * Answers one fastboot command.
 *
 * @param download the bytes that were downloaded before, for flash
 * @source AOSP fastboot README ("FastBoot Version 0.4"): getvar, download, flash, erase, reboot variants; logical partition
 *         commands as in userspace fastboot
 */
export function answer(state: PhoneState, command: string, download: Uint8Array | null): Reply {
  const [verb, ...rest] = command.split(":");
  const argument = rest.join(":");
  switch (verb) {
    case "getvar":
      return argument === "all" ? allVars(state) : getVar(state, argument);
    case "flash":
      return flash(state, argument, download);
    case "erase":
      return erase(state, argument);
    case "reboot":
      state.mode = "off";
      startSystem(state);
      return restart;
    case "reboot-bootloader":
      state.mode = "bootloader";
      return restart;
    case "reboot-recovery":
      state.mode = "recovery";
      note(state, "started the recovery");
      return restart;
    case "reboot-fastboot":
      if (state.userspaceFastboot) state.mode = "userspace";
      else startSystem(state);
      return restart;
    case "continue":
      startSystem(state);
      return restart;
    case "set_active":
      if (!state.slots || !/^[ab]$/.test(argument)) return fail("no such slot");
      state.slot = argument as "a" | "b";
      return okay();
    case "resize-logical-partition":
    case "create-logical-partition":
    case "delete-logical-partition":
      return logicalCommand(state, verb, argument);
    default:
      return lockCommand(state, command);
  }
}

function lockCommand(state: PhoneState, command: string): Reply {
  if (command === state.unlock.command.replace(" ", ":") || command === state.unlock.command) {
    if (!state.unlock.possible) return fail("unlocking is not allowed on this device");
    if (!state.locked) return fail("already unlocked");
    if (state.permission !== "granted") return fail("flashing unlock is not allowed");
    state.pending = "unlock";
    return okay();
  }
  const lock = state.unlock.command.replace("unlock", "lock");
  if (command === lock || command === lock.replace(" ", ":")) {
    if (state.locked) return fail("already locked");
    state.pending = "lock";
    return okay();
  }
  return fail("unknown command");
}

/** The person's yes on the device's own screen. */
export function confirmLock(state: PhoneState, wanted: "unlock" | "lock"): string | null {
  if (state.pending !== wanted) return `The device does not ask to ${wanted} at this moment`;
  state.pending = null;
  wipeData(state, false);
  state.locked = wanted === "lock";
  note(state, wanted === "lock" ? "locked" : "unlocked");
  if (state.locked && !whollyStock(state)) {
    state.alive = false;
    note(state, "locked while modified: the device is dead");
  }
  return null;
}

function flash(state: PhoneState, partition: string, download: Uint8Array | null): Reply {
  if (!download) return fail("no image downloaded");
  if (state.locked) return fail("Flashing is not allowed in locked state");
  const room = roomOf(state, partition);
  if (room === null) return fail(`No such partition: ${partition}`);
  // A file system that the client made for a partition it has just erased: it is fresh already.
  if (USER.includes(partition)) {
    note(state, `wrote an empty file system to ${partition}`);
    return okay();
  }
  if (partition in state.identity) {
    const refused = writeIdentity(state, partition, download);
    return refused ? fail(refused) : okay();
  }
  const file = readStandIn(download);
  // A large image comes in several sparse parts; only the first carries the label, the others go behind it.
  if (!file && isSparse(download) && state.partitions[partition] && state.lastWritten === partition) {
    note(state, `wrote a further part to ${partition}`);
    return okay();
  }
  if (!file) return fail("Invalid image");
  if (file.size > room) return fail("Image is larger than the partition");
  const refused = writePartition(state, partition, {
    ...file.label,
    size: file.size,
    verificationOff: file.verificationOff,
    spoiled: null,
  });
  if (refused) return fail(refused);
  state.lastWritten = partition;
  state.justErased = false;
  if (baseName(partition) === "system") {
    state.fresh = true;
    state.partitions.services = null;
  }
  return okay();
}

function erase(state: PhoneState, partition: string): Reply {
  if (state.locked) return fail("Erase is not allowed in locked state");
  if (roomOf(state, partition) === null) return fail(`No such partition: ${partition}`);
  if (partition === "userdata") {
    if (!state.justErased) wipeData(state, true, { keepsMetadata: true });
    state.justErased = true;
  }
  if (partition in state.identity) state.identity[partition] = "";
  if (partition === "metadata") state.metadata = null;
  else if (partition in state.partitions) state.partitions[partition] = null;
  note(state, `${partition} erased`);
  return okay();
}

function logicalCommand(state: PhoneState, verb: string, argument: string): Reply {
  if (state.mode !== "userspace") return fail("Command not supported in the bootloader");
  if (state.locked) return fail("Command not available on locked devices");
  const [partition, sizeText] = argument.split(":");
  const exists = partition in state.logicalSizes;
  if (verb === "delete-logical-partition") {
    if (!exists) return fail(`No such logical partition: ${partition}`);
    delete state.logicalSizes[partition];
    state.partitions[partition] = null;
    note(state, `removed ${partition}`);
    return okay();
  }
  const size = Number(sizeText);
  if (!Number.isSafeInteger(size) || size < 0) return fail("Invalid size");
  if (verb === "create-logical-partition" ? exists : !exists)
    return fail(exists ? "Partition already exists" : `No such logical partition: ${partition}`);
  const used = Object.entries(state.logicalSizes).reduce(
    (sum, [name, bytes]) => sum + (name === partition ? 0 : bytes),
    0,
  );
  if (used + size > superRoom(state)) return fail("Not enough space to resize partition");
  state.logicalSizes[partition] = size;
  return okay();
}

/** File systems as real devices have them: data is f2fs on newer ones, ext4 on older. */
const typeOf = (state: PhoneState, name: string) =>
  name === "userdata"
    ? state.launchApi >= 28
      ? "f2fs"
      : "ext4"
    : name === "boot" || PLAIN.includes(name)
      ? "raw"
      : "ext4";

function varsOf(state: PhoneState): Record<string, string> {
  const vars: Record<string, string> = {
    version: "0.4",
    product: state.codename,
    serialno: state.serial,
    secure: "yes",
    unlocked: state.locked ? "no" : "yes",
    "version-baseband": state.firmware,
    "max-download-size": `0x${state.maxDownload.toString(16)}`,
    "slot-count": state.slots ? "2" : "0",
    "is-userspace": state.mode === "userspace" ? "yes" : "no",
    "battery-level": String(state.battery),
    "battery-voltage": String(3400 + state.battery * 9),
    "battery-soc-ok": state.battery >= 30 ? "yes" : "no",
  };
  if (state.slots) vars["current-slot"] = state.slot as string;
  for (const name of [...PLAIN, ...LOGICAL, ...USER]) {
    vars[`has-slot:${name}`] = state.slots && HAS_SLOT.has(name) ? "yes" : "no";
    for (const partition of state.slots && HAS_SLOT.has(name) ? [`${name}_a`, `${name}_b`] : [name]) {
      const room = roomOf(state, partition);
      if (room !== null) {
        vars[`partition-size:${partition}`] = `0x${room.toString(16)}`;
        vars[`partition-type:${partition}`] = typeOf(state, name);
      }
      if (state.mode === "userspace" && room !== null)
        vars[`is-logical:${partition}`] = state.logical && LOGICAL.has(name) ? "yes" : "no";
    }
  }
  return vars;
}

function getVar(state: PhoneState, name: string): Reply {
  if (state.tempers.refusesVars.includes(name)) return fail("GetVar Variable Not found");
  const value = varsOf(state)[name];
  // The lead charges it a little with every minute that somebody asks.
  if (name.startsWith("battery")) state.battery = Math.min(100, state.battery + 1);
  return value === undefined ? fail("GetVar Variable Not found") : okay(value);
}

function allVars(state: PhoneState): Reply {
  const vars = Object.entries(varsOf(state)).filter(([name]) => !state.tempers.refusesVars.includes(name));
  return { ok: true, text: "", info: vars.map(([name, value]) => `${name}:${value}`) };
}
