import { z } from "zod";
import { isRelease } from "~/core/android/releases";
import { isHardwareList } from "./brokenHardware";

/**
 * Where a fact came from. `read` is a measurement: a client or a gate printed it. `run` is what a sheet promises of a step
 * that was done; it is never taken for a measurement (see lookUp.ts for which stands when).
 */
export const FactSource = z.enum(["model-default", "import", "typed", "run", "read"]);
export type FactSource = z.infer<typeof FactSource>;

export const SOURCE_WORDS: Record<FactSource, string> = {
  "model-default": "model record",
  import: "imported list",
  typed: "typed in",
  run: "from the bench, not measured",
  read: "read from the device",
};

interface FactKind {
  readonly says: string;
  readonly ask: string;
  readonly value: z.ZodType<string | number | boolean>;
}

const yesNo = z.boolean();
const text = z.string().trim().min(1).max(200);

/** Everything that can be known of a device: its name in words, how to find it out, and what a value looks like. */
export const FACTS = {
  "model.maker": { says: "Maker", ask: "Run the read-out: the maker's name", value: text },
  "model.name": { says: "Market name", ask: "Read the name on the back or in Settings", value: text },
  "model.number": { says: "Model number", ask: "Read the model number in Settings, About", value: text },
  "model.codename": { says: "Code name", ask: "Run the read-out: product name in the bootloader", value: text },
  "model.board": { says: "Board", ask: "Run the read-out, or look in an information app", value: text },
  "screen.size": { says: "Screen", ask: "Measure the screen across, or read its resolution in Settings", value: text },
  "android.release": {
    says: "Android version",
    ask: "Read the Android version in Settings, About",
    value: text.refine(isRelease, "This is not an Android version; write it like 11 or 8.1"),
  },
  "build.number": { says: "Full build number", ask: "Read the build number in Settings, About", value: text },
  "build.patch": {
    says: "Security patch date",
    ask: "Read the security patch date in Settings, About",
    value: z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "Write the date like 2023-08-05"),
  },
  "firmware.version": {
    says: "Firmware version",
    ask: "Read the baseband or bootloader version in Settings, About",
    value: text,
  },
  "system.kind": {
    says: "Running system",
    ask: "Look whether the maker's own system runs",
    value: z.enum(["stock", "custom", "generic", "none"]),
  },
  "system.starts": {
    says: "The system starts",
    ask: "Start it and wait: does the set-up or the home screen come?",
    value: z.enum(["yes", "not-yet", "no"]),
  },
  "base.build": {
    says: "Stock build under the system",
    ask: "Look in the device's history which stock build was on it before",
    value: text,
  },
  "base.release": {
    says: "Release of the vendor part",
    ask: "Run the read-out while the system runs: version of the vendor part",
    value: text.refine(isRelease, "This is not an Android version; write it like 11 or 8.1"),
  },
  "base.patch": {
    says: "Security patch date of the vendor part",
    ask: "Run the read-out while the system runs: patch date of the vendor part",
    value: z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "Write the date like 2023-08-05"),
  },
  "recovery.image": {
    says: "Recovery on it",
    ask: "Start the recovery by keys and read its name: write stock where it is the maker's own",
    value: text,
  },
  "verification.off": {
    says: "Verification switched off",
    ask: "Run adb shell getprop ro.boot.veritymode: disabled means yes, anything else no",
    value: yesNo,
  },
  "product.removed": {
    says: "Product partition removed",
    ask: "Run fastboot getvar all in userspace fastboot and look whether product is listed",
    value: yesNo,
  },
  "services.addon": {
    says: "Services add-on beside the system",
    ask: "Look in Settings, Apps whether a services package is there: write none where there is none",
    value: text,
  },
  "accounts.on": {
    says: "Accounts on it",
    ask: "Look in Settings, Accounts",
    value: yesNo,
  },
  "boot.state": {
    says: "Verified boot state",
    ask: "Run adb shell getprop ro.boot.verifiedbootstate",
    value: z.enum(["green", "yellow", "orange", "red"]),
  },
  "launch.api": {
    says: "API level it was sold with",
    ask: "Run adb shell getprop ro.product.first_api_level",
    value: z.number("Write a number").int().min(1).max(99),
  },
  "system.image": { says: "Running image", ask: "Compare the build number with the image list", value: text },
  "bootloader.locked": {
    says: "Bootloader locked",
    ask: "Run fastboot getvar unlocked, or look at the start screen",
    value: yesNo,
  },
  "unlock.granted": {
    says: "Unlock permission granted",
    ask: "Look whether the unlock switch is on and the waiting time over",
    value: yesNo,
  },
  "unlock.ability": {
    says: "Bootloader can be unlocked",
    ask: "Run the read-out, or look whether the developer options show “OEM unlocking”",
    value: yesNo,
  },
  "unlock.asked": {
    says: "Unlock permission asked for",
    ask: "Look in the developer options whether the waiting time runs",
    value: yesNo,
  },
  "lock.maker": {
    says: "Maker's own lock",
    ask: "Look whether this maker has a lock of its own",
    value: yesNo,
  },
  "slots.count": {
    says: "Number of slots",
    ask: "Run fastboot getvar slot-count",
    value: z.number("Write a number").int().min(0).max(2),
  },
  "slot.current": { says: "Current slot", ask: "Run fastboot getvar current-slot", value: z.enum(["a", "b"]) },
  "treble.supported": {
    says: "Vendor interface (Treble)",
    ask: "Run the read-out, or look in an information app",
    value: yesNo,
  },
  "fastboot.userspace": {
    says: "Userspace fastboot",
    ask: "Run fastboot reboot fastboot and look what starts",
    value: yesNo,
  },
  "partitions.logical": {
    says: "System is a logical partition",
    ask: "Run fastboot getvar is-logical:system in userspace fastboot",
    value: yesNo,
  },
  "cpu.arch": { says: "CPU type", ask: "Run the read-out: ABI list", value: z.enum(["arm", "arm64"]) },
  "kernel.binder": {
    says: "Binder, bits",
    ask: "Run adb shell uname -m: aarch64 stands for 64",
    value: z.enum(["32", "64"]),
  },
  "system.cleaned": {
    says: "Stock system cleaned by",
    ask: "Look at the device's list of removed packages, or run adb shell pm list packages",
    value: text,
  },
  "system.as-root": {
    says: "Root folder inside the system partition",
    ask: "Run the read-out before any upgrade, or look in an information app",
    value: yesNo,
  },
  "gsi.failed": {
    says: "Flavour of generic image that did not start on it",
    ask: "Look in the device's history which flavour of generic image did not start",
    value: z.enum(["light", "heavy", "vndk-lite"]),
  },
  "device.region": {
    says: "Region code",
    ask: "Read the region or sales code in Settings, About, Software information",
    value: text,
  },
  "fuse.level": {
    says: "Fuse level of the bootloader",
    ask: "Start download mode and read the number beside the fuse on its screen",
    value: z.number("Write a number").int().min(0).max(99),
  },
  "fuse.blown": {
    says: "Fuse for foreign systems blown",
    ask: "Start download mode and read whether its screen says that a foreign system was on it",
    value: yesNo,
  },
  "board.chip": {
    says: "Chip and its revision",
    ask: "Read the chip and its revision in an information app, never on the box: two boxes of one name carry different chips",
    value: text,
  },
  "board.dumped": {
    says: "Board dumped while it worked",
    ask: "Look on the device's page whether its own dump was kept",
    value: yesNo,
  },
  "board.dumped-release": {
    says: "Android version that was dumped",
    ask: "Look on the device's page which version ran when it was dumped",
    value: text.refine(isRelease, "This is not an Android version; write it like 11 or 8.1"),
  },
  "room.system": {
    says: "Room for the system partition, bytes",
    ask: "Run fastboot getvar all",
    value: z.number("Write a number of bytes").int().positive(),
  },
  "room.product": {
    says: "Room that removing product frees, bytes",
    ask: "Read the partitions on the device's room page",
    value: z.number("Write a number of bytes").int().min(0),
  },
  "storage.free": {
    says: "Free storage, bytes",
    ask: "Run adb shell df /sdcard, or look in Settings, Storage",
    value: z.number("Write a number of bytes").int().min(0),
  },
  "battery.percent": {
    says: "Battery level, percent",
    ask: "Look at the battery level",
    value: z
      .number("Write a number from 0 to 100")
      .min(0, "Write a number from 0 to 100")
      .max(100, "Write a number from 0 to 100"),
  },
  "storage.state": {
    says: "Storage",
    ask: "Look whether the set-up screen or somebody's data is on it",
    value: z.enum(["donor", "workshop", "clean", "must-format"]),
  },
  "storage.encrypted": {
    says: "Storage is encrypted",
    ask: "Look in Settings, Security whether storage is encrypted",
    value: yesNo,
  },
  "hardware.broken": {
    says: "Broken hardware",
    ask: "Try the hardware, and tick what does not work",
    value: z
      .string()
      .max(200)
      .refine(
        isHardwareList,
        "Name hardware from the list: calls, mobile-data, wifi, bluetooth, camera, rotation, fingerprint, nfc, speaker, gps; or none",
      ),
  },
} as const satisfies Record<string, FactKind>;

/** Facts that change without anybody treating the device: a newer word about them is news, not a contradiction. */
export const CHANGING: ReadonlySet<string> = new Set<keyof typeof FACTS>([
  "battery.percent",
  "storage.state",
  "storage.free",
  "accounts.on",
  "system.starts",
  "hardware.broken",
]);

export type FactKey = keyof typeof FACTS;
export const FACT_KEYS = Object.keys(FACTS) as FactKey[];
export const FactKey = z.enum(FACT_KEYS as [FactKey, ...FactKey[]]);

export type FactValue = string | number | boolean;

export const Fact = z.object({
  key: FactKey,
  /** null: what was known does not hold any more, and nobody knows what does. */
  value: z.union([z.string(), z.number(), z.boolean(), z.null()]),
  source: FactSource,
  at: z.iso.datetime(),
  by: z.string().min(1),
});
export type Fact = z.infer<typeof Fact>;

/** A value as a person reads it: yes and no, not true and false. @example factText(true) // "yes" */
export function factText(value: FactValue | null): string {
  if (value === null) return "not known any more";
  return typeof value === "boolean" ? (value ? "yes" : "no") : String(value);
}

/**
 * Checks a value typed or imported for a key; text is turned into the key's own type first.
 *
 * @returns the value, or what is wrong with it in words
 * @example readFactValue("bootloader.locked", "yes") // { ok: true, value: true }
 */
export function readFactValue(
  key: FactKey,
  raw: FactValue,
): { readonly ok: true; readonly value: FactValue } | { readonly ok: false; readonly says: string } {
  const kind = FACTS[key];
  let value: FactValue = typeof raw === "string" ? raw.trim() : raw;
  if (typeof value === "string") {
    if (kind.value === yesNo) {
      const lower = value.toLowerCase();
      if (["yes", "true", "1", "y", "on"].includes(lower)) value = true;
      else if (["no", "false", "0", "n", "off"].includes(lower)) value = false;
    } else if (kind.value instanceof z.ZodNumber && /^\d+(\.\d+)?$/.test(value)) value = Number(value);
  }
  const checked = kind.value.safeParse(value);
  if (checked.success) return { ok: true, value: checked.data };
  return { ok: false, says: `${kind.says}: ${checked.error.issues[0].message}` };
}
