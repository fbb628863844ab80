import { z } from "zod";
import type { FactKey } from "~/core/device/fact";
import { NO_OWN_SCHOOLS, OwnSchools } from "~/core/policy/schools";
import { boardListProblems } from "./boardList";
import { Api, Bytes, Cpu, Hardware, Provenance, Slug } from "./common";
import { FlasherEdition } from "./flasherSlots";

/** A mark that no later step takes away. */
export const Irreversible = z.string().min(3).max(200);

export const FlashInterface = z.enum(["fastboot", "download-mode", "loader"]);
export type FlashInterface = z.infer<typeof FlashInterface>;

export const FLASH_WORDS: Record<FlashInterface, string> = {
  fastboot: "fastboot",
  "download-mode": "the maker's download mode",
  loader: "the board's loader",
};

/** What is peculiar to a model with the maker's download mode; all of it common practice, no source, until it is recorded. */
const DownloadMode = z.strictObject({
  /** Which edition of the flasher suits it: they name their slots differently. */
  edition: FlasherEdition,
  enter: z.string().min(3).max(300),
  /** A mark that blows for good at the first foreign image; null where it has none. */
  fuse: Irreversible.nullable().default(null),
  /** Unlocked, it locks itself again unless it was online once and showed its toggle on and greyed. */
  greyedToggle: z.boolean().default(true),
  /** How forced encryption is switched off where a recovery can't read it; null where there is none. */
  encryption: z.enum(["script", "wipe"]).nullable().default(null),
});

/** What is peculiar to a model with a loader-type board; all of it common practice, no source, until it is recorded. */
const LoaderBoard = z
  .strictObject({
    /** Chip with its revision, as an information app tells it: not what stands on the box. */
    chip: z.string().min(2).max(60),
    /** Where the hidden button is. */
    button: z.string().min(3).max(200),
    /** Which of the two flashers' row lists belongs to this board. */
    rowList: z.enum(["long", "short"]).default("long"),
    /** The board's partition list, as its parameter file has it: numbers in sectors of 512 bytes. */
    list: z
      .string()
      .min(20, "Paste the whole list, from the word FIRMWARE on")
      .max(20_000, "No board's list is as long"),
    /** Sectors of its flash; null while nobody knows. */
    sectors: z.number().int().positive().nullable().default(null),
  })
  .superRefine((loader, ctx) => {
    const problems = boardListProblems(loader.list, loader.sectors);
    for (const message of problems) ctx.addIssue({ code: "custom", path: ["list"], message });
  });

/**
 * Parts of a record that nobody knows yet. What stands there in the meantime counts for nothing: rules that look at it ask, and
 * each device tells for itself by the fact beside it.
 */
export const OPEN_FACTS = {
  slots: "slots.count",
  treble: "treble.supported",
  cpu: "cpu.arch",
  userspaceFastboot: "fastboot.userspace",
  logical: "partitions.logical",
  launchApi: "launch.api",
  room: "room.system",
  unlock: "unlock.ability",
  hardware: "hardware.broken",
} as const satisfies Record<string, FactKey>;
export type OpenPart = keyof typeof OPEN_FACTS;
export const OPEN_PARTS = Object.keys(OPEN_FACTS) as OpenPart[];

export const OPEN_WORDS: Record<OpenPart, string> = {
  slots: "one slot or two",
  treble: "vendor interface",
  cpu: "CPU type",
  userspaceFastboot: "userspace fastboot",
  logical: "super partition",
  launchApi: "release it was sold with",
  room: "room for the system",
  unlock: "whether it can be unlocked",
  hardware: "what hardware it has",
};

export const BinderBits = z.enum(["32", "64"]);

/** Where on the way a quirk shows; the sheet says it there. */
export const QuirkAt = z.enum(["always", "android", "bootloader", "userspace", "recovery", "first-start"]);
export type QuirkAt = z.infer<typeof QuirkAt>;

export const QUIRK_WORDS: Record<QuirkAt, string> = {
  always: "All the time",
  android: "In Android",
  bootloader: "In the bootloader",
  userspace: "In userspace fastboot",
  recovery: "In recovery",
  "first-start": "At the first start",
};

const Quirk = z.strictObject({ at: QuirkAt, says: z.string().min(3).max(300) });

/**
 * One board, with every name and model number it is sold under.
 *
 * Two devices share a record exactly when they take the same builds; the market name alone never identifies one.
 */
export const Model = z.strictObject({
  id: Slug,
  maker: z.string().min(1).max(60),
  names: z.array(z.string().min(1).max(60)).min(1),
  modelNumbers: z.array(z.string().min(1).max(40)).min(1),
  codename: z.string().min(1).max(40),
  board: z.string().min(1).max(40),
  form: z.enum(["phone", "tablet", "box"]),
  launchApi: Api,
  /** What it is flashed through: fastboot, the maker's download mode, or the loader of its board. */
  flash: FlashInterface.default("fastboot"),
  /** Diagonal and resolution as a person can measure or read them, like "10.1 in, 1920 × 1200"; null when not recorded. */
  screen: z.string().min(2).max(40).nullable().default(null),
  cpu: Cpu,
  hardware: z.array(Hardware),
  /** Bits of its binder: a 32-bit processor's system may talk either; null while nobody knows. */
  binder: BinderBits.nullable().default(null),
  /** Its system partition holds the root folder, as a GSI of the two-slot layout expects; null while nobody knows. */
  systemAsRoot: z.boolean().nullable().default(null),
  treble: z.boolean(),
  slots: z.boolean(),
  userspaceFastboot: z.boolean(),
  /** System and product live inside one super partition and can be resized. */
  logical: z.boolean(),
  maxDownload: Bytes,
  /** Rate at which partitions are written over the lead, bytes per second. */
  writeRate: Bytes,
  room: z.strictObject({
    system: Bytes,
    product: Bytes.nullable(),
    boot: Bytes.default(67_108_864),
    recovery: Bytes.nullable().default(null),
  }),
  unlock: z.strictObject({
    possible: z.boolean(),
    says: z.string().max(300).default(""),
    waitingDays: z.number().int().min(0).max(60).default(0),
    command: z.enum(["flashing unlock", "oem unlock"]).default("flashing unlock"),
    consequences: z.array(Irreversible).default([]),
  }),
  /** The maker has an activation lock of its own, beside the platform's; null while nobody knows. */
  makerLock: z.boolean().nullable().default(null),
  /** The maker lets a wholly stock device be locked again. */
  relock: z.boolean().default(false),
  firmware: z.strictObject({
    /** Known versions, oldest first. */
    order: z.array(z.string().min(1)),
    dangerous: z
      .array(z.strictObject({ from: z.string(), to: z.string(), says: z.string().min(3), safe: z.string() }))
      .default([]),
  }),
  /** Partitions that make this one device itself (numbers, radio calibration): saved before anything is written, never shared. */
  identity: z
    .array(
      z.string().regex(/^[a-z][a-z0-9_-]{1,30}$/, "small letters, digits, _ and - only, as the bootloader names them"),
    )
    .max(12)
    .default([]),
  /** Only for models that are flashed through the maker's download mode. */
  download: DownloadMode.nullable().default(null),
  /** It takes an update from the root of a memory card: the keys, and the largest card that is known to work, bytes. */
  card: z
    .strictObject({ keys: z.string().min(3).max(300), largest: Bytes.nullable().default(null) })
    .nullable()
    .default(null),
  /** Only for boxes and tablets with a loader-type board. */
  loader: LoaderBoard.nullable().default(null),
  keys: z.strictObject({ bootloader: z.string().min(3), recovery: z.string().min(3) }),
  /** The stock system puts its own recovery back at every start. */
  stockRestoresRecovery: z.boolean().default(false),
  /** A recorded success of going down a release without stock in between. */
  directDowngrade: z.boolean().default(false),
  /** What nobody knows yet of this model. */
  open: z.array(z.enum(OPEN_PARTS)).default([]),
  /** What the house has otherwise on this model. */
  schools: OwnSchools.default(NO_OWN_SCHOOLS),
  /** What is peculiar to it, and where on the way it shows. */
  quirks: z.array(Quirk).max(40).default([]),
  ...Provenance,
});
export type Model = z.infer<typeof Model>;

/**
 * "Maker Name (number)", the way a model is written everywhere.
 *
 * @example modelTitle({ maker: "Velkora", names: ["Vista 20"] }) // "Velkora Vista 20"
 */
export function modelTitle(model: Pick<Model, "maker" | "names">): string {
  return `${model.maker} ${model.names[0]}`;
}

/**
 * "Maker Name (code name)", where two boards of one name must be told apart.
 *
 * @example modelWithCode({ maker: "Velkora", names: ["Vista 20"], codename: "vesper" }) // "Velkora Vista 20 (vesper)"
 */
export function modelWithCode(model: Pick<Model, "maker" | "names" | "codename">): string {
  return `${modelTitle(model)} (${model.codename})`;
}

/**
 * Titles by id, with the code name only where two boards have one name.
 *
 * @example titlesApart([{ id: "v", maker: "Velkora", names: ["Vista 20"], codename: "vesper" }]).get("v") // "Velkora Vista 20"
 */
export function titlesApart(
  models: readonly Pick<Model, "id" | "maker" | "names" | "codename">[],
): ReadonlyMap<string, string> {
  const often = new Map<string, number>();
  for (const model of models) often.set(modelTitle(model), (often.get(modelTitle(model)) ?? 0) + 1);
  const titleOf = (model: (typeof models)[number]) =>
    often.get(modelTitle(model)) === 1 ? modelTitle(model) : modelWithCode(model);
  return new Map(models.map((model) => [model.id, titleOf(model)]));
}
