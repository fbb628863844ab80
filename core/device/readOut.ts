import { apiOf } from "~/core/android/releases";
import { type PartitionRoom, readRoom, slotEnding, systemRoom } from "~/core/android/room";
import type { FactKey, FactValue } from "./fact";
import { readFactValue } from "./fact";

/** What a pasted read-out says: facts, the serial if it names one, and lines that looked like values but were not used. */
export interface ReadOut {
  readonly kind: "getprop" | "getvar" | "nothing";
  readonly facts: ReadonlyMap<FactKey, FactValue>;
  readonly serial: string | null;
  readonly problems: readonly string[];
}

type Take = (value: string, facts: Map<FactKey, FactValue>) => void;

const put =
  (key: FactKey): Take =>
  (value, facts) => {
    facts.set(key, value);
  };

/** Words for the lock, each from another corner of the device; they must agree. */
const LOCK_WORDS: Record<string, (value: string) => boolean | null> = {
  unlocked: (v) => v !== "yes",
  "ro.boot.flash.locked": (v) => v === "1",
  "ro.boot.vbmeta.device_state": (v) => (v === "locked" ? true : v === "unlocked" ? false : null),
  // Green: locked, started with the maker's own key. Orange: unlocked (AOSP, "Verified Boot: boot flow").
  "ro.boot.verifiedbootstate": (v) => (v === "green" ? true : v === "orange" ? false : null),
};

const wholeNumber =
  (key: FactKey): Take =>
  (v, f) => {
    if (/^\d+$/.test(v)) f.set(key, Number(v));
  };

const PROPS: Record<string, Take> = {
  "ro.product.manufacturer": put("model.maker"),
  "ro.product.first_api_level": wholeNumber("launch.api"),
  "ro.vendor.build.version.release": put("base.release"),
  "ro.vendor.build.security_patch": put("base.patch"),
  "ro.boot.verifiedbootstate": put("boot.state"),
  // AOSP libavb: "disabled" where the verification file's flag switches the hash trees off.
  "ro.boot.veritymode": (v, f) => f.set("verification.off", v === "disabled"),
  "ro.product.model": put("model.number"),
  "ro.product.device": put("model.codename"),
  "ro.product.board": put("model.board"),
  "ro.build.version.release": put("android.release"),
  "ro.build.display.id": put("build.number"),
  "ro.build.version.security_patch": put("build.patch"),
  "gsm.version.baseband": (v, f) => f.set("firmware.version", v.split(",")[0]),
  "ro.boot.slot_suffix": (v, f) => {
    const slot = v.replace("_", "");
    if (slot) f.set("slot.current", slot);
  },
  "ro.treble.enabled": (v, f) => f.set("treble.supported", v === "true"),
  "ro.product.cpu.abi": (v, f) => f.set("cpu.arch", v.startsWith("arm64") ? "arm64" : "arm"),
  "ro.build.system_root_image": (v, f) => f.set("system.as-root", v === "true"),
  // AOSP: the property behind the switch in the developer options; one that is missing says nothing.
  "ro.oem_unlock_supported": (v, f) => f.set("unlock.ability", v === "1" || v === "true"),
  // AOSP build system: AB_OTA_UPDATER and PRODUCT_USE_DYNAMIC_PARTITIONS, as the build tells them.
  "ro.build.ab_update": (v, f) => f.set("slots.count", v === "true" ? 2 : 1),
  "ro.boot.dynamic_partitions": (v, f) => f.set("partitions.logical", v === "true"),
  "sys.oem_unlock_allowed": (v, f) => f.set("unlock.granted", v === "1"),
};

const VARS: Record<string, Take> = {
  product: put("model.codename"),
  "slot-count": (v, f) => f.set("slots.count", v),
  "current-slot": (v, f) => {
    if (/^_?[ab]$/.test(v)) f.set("slot.current", v.replace("_", ""));
  },
  "version-baseband": put("firmware.version"),
  "is-userspace": (v, f) => {
    if (v === "yes") f.set("fastboot.userspace", true);
  },
  "battery-level": put("battery.percent"),
};

/**
 * A single property or bootloader variable as a fact; nothing where it tells none.
 *
 * @example factsOfAnswer("ro.build.version.release", "11") // [["android.release", "11"]]
 */
export function factsOfAnswer(name: string, value: string): [FactKey, FactValue][] {
  const raw = new Map<FactKey, FactValue>();
  const locked = Object.hasOwn(LOCK_WORDS, name) ? LOCK_WORDS[name](value) : null;
  if (locked !== null) raw.set("bootloader.locked", locked);
  if (name === "battery") raw.set("battery.percent", value);
  if (name === "is-userspace" && value === "no") raw.set("fastboot.userspace", false);
  const take = Object.hasOwn(PROPS, name) ? PROPS[name] : Object.hasOwn(VARS, name) ? VARS[name] : null;
  take?.(value, raw);
  return [...raw].flatMap(([key, told]): [FactKey, FactValue][] => {
    const checked = readFactValue(key, told);
    return checked.ok ? [[key, checked.value]] : [];
  });
}

/** What the partitions of userspace fastboot tell: whether system is logical, whether product is there. */
function logicalFacts(vars: ReadonlyMap<string, string>): [FactKey, boolean][] {
  const logical = [...vars].filter(([name]) => name.startsWith("is-logical:"));
  const system = logical.find(([name]) => /^is-logical:system(_[ab])?$/.test(name));
  if (!system) return [];
  const product = logical.some(([name]) => /^is-logical:product(_[ab])?$/.test(name));
  // A whole listing names every partition; a single answer says nothing about the others.
  const whole = logical.length >= 3;
  return [
    ["partitions.logical", system[1] === "yes"],
    ...(product || whole ? ([["product.removed", !product]] as [FactKey, boolean][]) : []),
  ];
}

/**
 * Reads pasted `adb shell getprop` or `fastboot getvar all` output into facts.
 *
 * Tolerates what clients and people mix into it: prompts, daemon chatter, `(bootloader)` prefixes, `INFO`, elapsed
 * times, carriage returns, quoted reply marks. Both kinds may stand in one paste.
 *
 * @source AOSP `getprop` output `[key]: [value]`; AOSP fastboot `getvar all` output `(bootloader) key:value`
 * @example readReadOut("[ro.build.version.release]: [12]").facts // [["android.release", "12"], …]
 */
export function readReadOut(text: string): ReadOut {
  const raw = new Map<FactKey, FactValue>();
  const words = new Map<string, boolean>();
  const told = new Map<string, string>();
  const hear = (name: string, value: string) => {
    const locked = Object.hasOwn(LOCK_WORDS, name) ? LOCK_WORDS[name](value) : null;
    if (locked !== null) words.set(name, locked);
  };
  let serial: string | null = null;
  let props = 0;
  let vars = 0;
  for (const original of text.split(/\r\n|\r|\n/)) {
    const line = original.replace(/^[>\s]+/, "").trimEnd();
    const prop = /^\[([\w.-]+)\]:\s*\[(.*)\]$/.exec(line);
    if (prop) {
      props++;
      const [, key, value] = prop;
      if (value === "") continue;
      hear(key, value);
      if (key === "ro.serialno" || key === "ro.boot.serialno") serial = value;
      else if (Object.hasOwn(PROPS, key)) PROPS[key](value, raw);
      continue;
    }
    // What `uname -m` prints: a 64-bit kernel, which a 32-bit process sees as armv8l. A 32-bit one leaves the binder open.
    if (/^(aarch64|armv8l)$/.test(line)) raw.set("kernel.binder", "64");
    const variable = /^(?:\(bootloader\)|INFO)?\s*([a-z][\w-]*(?::[\w-]+)?):\s*(.+)$/.exec(line);
    if (!variable) continue;
    const [, key, value] = [variable[0], variable[1], variable[2].trim()];
    const known = Object.hasOwn(VARS, key) || key === "unlocked" || key === "serialno";
    if (!/^\(bootloader\)|^INFO/.test(line) && !known && !key.startsWith("is-logical:")) continue;
    vars++;
    hear(key, value);
    told.set(key, value);
    if (key === "serialno") serial = value;
    else if (Object.hasOwn(VARS, key)) VARS[key](value, raw);
  }
  // From Android 10 on the property says "false" on every device, whatever its layout (from memory, no source).
  const api = apiOf(String(raw.get("android.release") ?? ""));
  if (raw.get("system.as-root") === false && (api === null || api >= 29)) raw.delete("system.as-root");
  for (const [key, value] of roomFacts(readRoom(text), raw.get("slot.current"))) raw.set(key, value);
  for (const [key, value] of logicalFacts(told)) raw.set(key, value);
  const facts = new Map<FactKey, FactValue>();
  const problems: string[] = [];
  const [locked, ...others] = new Set(words.values());
  if (others.length)
    problems.push(
      `The words for the lock contradict each other: ${[...words].map(([name, is]) => `${name} says ${is ? "locked" : "unlocked"}`).join(", ")}. Restart the device and read it again`,
    );
  else if (locked !== undefined) raw.set("bootloader.locked", locked);
  for (const [key, value] of raw) {
    const checked = readFactValue(key, value);
    if (checked.ok) facts.set(key, checked.value);
    else problems.push(`${checked.says} (read “${value}”)`);
  }
  const kind = props || raw.has("kernel.binder") ? "getprop" : vars ? "getvar" : "nothing";
  return { kind, facts, serial, problems };
}

/**
 * What a device's partitions say about the room for a system: as it is, and what removing product frees.
 *
 * @param current the current slot, where it is known
 * @example roomFacts(null, undefined) // []
 */
export function roomFacts(room: PartitionRoom | null, current: FactValue | undefined): [FactKey, number][] {
  if (!room) return [];
  const ending = slotEnding(room, current === "a" || current === "b" ? current : null);
  const now = systemRoom(room, ending);
  if (!now) return [];
  const product = room.partitions.find((p) => p.name === `product${ending}` && p.logical);
  const without = product ? (systemRoom(room, ending, [product.name]) ?? now) : now;
  return [["room.system", now], ...(product ? ([["room.product", without - now]] as [FactKey, number][]) : [])];
}
