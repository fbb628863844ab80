import { z } from "zod";
import { StandInLabel } from "~/core/files/standIn";
import { PhonePackages } from "./packages/state";

/** What stands in a partition. */
export const Content = StandInLabel.extend({
  size: z.number(),
  verificationOff: z.boolean().default(false),
  spoiled: z.string().nullable().default(null),
});
export type Content = z.infer<typeof Content>;

const Mode = z.enum([
  "android",
  "bootloader",
  "userspace",
  "recovery",
  "sideload",
  "download",
  "loader",
  "bootloop",
  "off",
]);
export type Mode = z.infer<typeof Mode>;

/** Whose keys and files lie in the data partition; null means freshly formatted. */
const Data = z.object({ kind: z.enum(["stock", "custom", "generic"]), api: z.number(), donor: z.boolean() });

/** What a phone with the maker's download mode has beside the rest. */
const Download = z.object({
  region: z.string().nullable(),
  fuseLevel: z.number(),
  fuseBlown: z.boolean(),
  /** Unlocked, it locks itself again at the next start of download mode, unless it was online and its switch was seen greyed. */
  relocksItself: z.boolean(),
  toggleSeen: z.boolean().default(false),
});

/** A card slot: the file of the card that is in it, and the largest it takes, bytes. */
const CardSlot = z.object({
  image: z.string().nullable().default(null),
  inserted: z.boolean().default(false),
  largest: z.number(),
  region: z.string().nullable().default(null),
});

/** What a box or tablet with a loader-type board has beside the rest. */
const Loader = z.object({
  chip: z.string(),
  /** Its partitions, in the order of its list. */
  rows: z.array(z.string()),
  list: z.string(),
  /** Power supply in: the hidden button is not heard then. */
  powered: z.boolean().default(false),
  /** A dump breaks off before this row: a temper. */
  dumpBreaksAt: z.string().nullable().default(null),
  /** Of this row only half is read, without a word: a temper. */
  dumpsHalfOf: z.string().nullable().default(null),
});

/** Forced encryption, as far as a recovery minds it. */
const Encryption = z.object({
  /** How it is switched off; null: this phone has none that a recovery minds. */
  kind: z.enum(["script", "wipe"]).nullable().default(null),
  on: z.boolean().default(false),
  /** How often the disabling command ran. */
  ran: z.number().default(0),
  /** Data was formatted, and the recovery has not restarted since: storage can't be written. */
  justFormatted: z.boolean().default(false),
});

/** Tempers: what this one phone does not do as the book says. */
const Tempers = z.object({
  /** Variables the bootloader refuses to tell. */
  refusesVars: z.array(z.string()).default([]),
  /** Hangs at the first start until it is forced once. */
  hangsAtFirstBoot: z.boolean().default(false),
  /** Drops the lead once, in the middle of the given download (counted from 1). */
  dropsLeadAtDownload: z.number().int().nullable().default(null),
});

/** A phone made of software: everything about it, as one JSON document. */
export const PhoneState = z.object({
  tag: z.string(),
  serial: z.string(),
  codename: z.string(),
  maker: z.string().default(""),
  modelNumber: z.string(),
  launchApi: z.number().default(0),
  board: z.string(),
  cpu: z.enum(["arm", "arm64"]),
  slots: z.boolean(),
  userspaceFastboot: z.boolean(),
  logical: z.boolean(),
  treble: z.boolean(),
  maxDownload: z.number(),
  rooms: z.record(z.string(), z.number()),
  unlock: z.object({ possible: z.boolean(), waitingDays: z.number(), command: z.string() }),
  firmwareOrder: z.array(z.string()),
  dangerous: z.array(z.object({ from: z.string(), to: z.string() })),
  restoresRecovery: z.boolean(),
  alive: z.boolean().default(true),
  mode: Mode.default("android"),
  locked: z.boolean(),
  permission: z.enum(["none", "switched", "asked", "granted"]).default("none"),
  debugging: z.boolean().default(false),
  authorised: z.boolean().default(false),
  accounts: z.boolean().default(true),
  accountLock: z.boolean().default(false),
  battery: z.number().default(80),
  slot: z.enum(["a", "b"]).nullable(),
  firmware: z.string(),
  partitions: z.record(z.string(), Content.nullable()),
  /** Logical partitions and their sizes; a name that is missing does not exist. */
  logicalSizes: z.record(z.string(), z.number()),
  data: Data.nullable(),
  /** Whose keys lie in the metadata partition; null means freshly formatted. */
  metadata: Data.pick({ kind: true, api: true }).nullable().default(null),
  download: Download.nullable().default(null),
  /** File of the stick that lies beside it. */
  stick: z.string().nullable().default(null),
  card: CardSlot.nullable().default(null),
  loader: Loader.nullable().default(null),
  encryption: Encryption.default(() => Encryption.parse({})),
  packages: PhonePackages.default(() => PhonePackages.parse({})),
  /** Whose numbers stand in each identity partition: a serial number, or nothing where it was erased. */
  identity: z.record(z.string(), z.string()).default({}),
  storage: z.record(z.string(), Content).default({}),
  /** Updates the maker would offer over the air. */
  offers: z.array(Content).default([]),
  fresh: z.boolean().default(false),
  wipes: z.number().default(0),
  downloads: z.number().default(0),
  /** userdata was erased a moment ago, and nothing was written since: doing it again wipes nothing more. */
  justErased: z.boolean().default(false),
  /** Partition of the last flash: further sparse parts may follow it. */
  lastWritten: z.string().nullable().default(null),
  pending: z.enum(["unlock", "lock"]).nullable().default(null),
  tempers: Tempers.default({ refusesVars: [], hangsAtFirstBoot: false, dropsLeadAtDownload: null }),
  trail: z.array(z.string()).default([]),
});
export type PhoneState = z.infer<typeof PhoneState>;

/** Name of a partition with its slot suffix, where this phone has one. */
export function slotted(state: PhoneState, name: string, slot = state.slot): string {
  return state.slots && HAS_SLOT.has(name) ? `${name}_${slot}` : name;
}

export const HAS_SLOT: ReadonlySet<string> = new Set([
  "boot",
  "vendor_boot",
  "dtbo",
  "vbmeta",
  "system",
  "product",
  "radio",
]);
export const LOGICAL: ReadonlySet<string> = new Set(["system", "product"]);

export const baseName = (partition: string) => partition.replace(/_[ab]$/, "");

export const contentOf = (state: PhoneState, name: string): Content | null =>
  state.partitions[slotted(state, name)] ?? null;

export type SystemKind = "stock" | "custom" | "generic";

export function kindOf(content: Content): SystemKind {
  return content.kind === "rom" ? "custom" : content.kind === "gsi" ? "generic" : "stock";
}

/** Writes a line into the phone's memory of what happened. */
export function note(state: PhoneState, line: string) {
  state.trail.push(line);
}

/** The report of a phone: the same as JSON over the hands port and in the report file. */
export interface PhoneReport {
  readonly alive: boolean;
  readonly boots: boolean;
  readonly release: string | null;
  readonly api: number | null;
  readonly image: string | null;
  readonly bootloader: "locked" | "unlocked";
  readonly slot: string | null;
  readonly storage: "clean" | "donor" | "must-format";
  readonly wipes: number;
  readonly accountLock: boolean;
  readonly services: boolean;
  readonly mode: Mode;
  readonly trail: readonly string[];
}
