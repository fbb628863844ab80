import { z } from "zod";
import { FlasherEdition } from "~/core/catalogue/flasherSlots";
import { FactKey } from "~/core/device/fact";
import { IdentityCopy } from "./identityCopy";

const list = <T extends z.ZodType>(of: T) => z.array(of).readonly();

/** A file of an image, by its place in the folder of files: `<image id>/<file name>`. */
export const FileRef = z
  .object({ image: z.string(), name: z.string(), bytes: z.number(), sha256: z.string().nullable() })
  .readonly();
export type FileRef = z.infer<typeof FileRef>;

/**
 * One word of a command: plain text, a file in the folder of files, or a partition with the slot that the device itself
 * told a moment ago (where the slot can't be known when the sheet is written).
 */
export const Word = z.union([
  z.string(),
  z.object({ file: z.string() }).readonly(),
  z.object({ perSlot: z.string() }).readonly(),
]);
export type Word = z.infer<typeof Word>;

const asked = {
  name: z.string(),
  expect: z.string(),
  /** What it is, in words. */
  fact: z.string(),
  /** The fact that it measures. */
  key: FactKey.optional(),
};

/** A condition that must be met before the run goes on. */
export const Gate = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("digests"), files: list(FileRef) }).readonly(),
  z.object({ kind: z.literal("getprop"), ...asked }).readonly(),
  z.object({ kind: z.literal("getvar"), ...asked }).readonly(),
  /** Reads the current slot for the commands behind it; where one is expected, it must be that one. */
  z.object({ kind: z.literal("slot"), expect: z.string().nullable() }).readonly(),
  z.object({ kind: z.literal("adb-state"), state: z.enum(["device", "recovery", "sideload"]) }).readonly(),
  /** Reads the battery; stops below `stop` percent, waits below `floor`. */
  z
    .object({
      kind: z.literal("battery"),
      how: z.enum(["dumpsys", "getvar"]),
      floor: z.number(),
      stop: z.number(),
    })
    .readonly(),
  /** Whether userspace fastboot answers; where it is not a must, the bootloader takes its place. */
  z.object({ kind: z.literal("userspace"), must: z.boolean() }).readonly(),
  /** Reads the partitions that make the device itself into files of the bench; without every one of them it goes no further. */
  z
    .object({
      kind: z.literal("keep"),
      partitions: list(z.string()),
      /** By a recovery's client, or by the flasher from a board's loader. */
      how: z.enum(["adb", "loader"]).default("adb"),
      /** Bytes by partition, where a board's list tells them. */
      sizes: z.record(z.string(), z.number()).readonly().default({}),
    })
    .readonly(),
  /** The folder of a package at the root of a card. */
  z.object({ kind: z.literal("card"), folder: z.string(), file: FileRef }).readonly(),
  /** A file at the root of a stick. */
  z.object({ kind: z.literal("stick"), file: FileRef }).readonly(),
  /** Files that were kept of this device, each with its digest, before they are given back. */
  z.object({ kind: z.literal("kept"), copies: list(IdentityCopy) }).readonly(),
  /** Asks Android by a command; its answer must hold a text. */
  z.object({ kind: z.literal("shell"), words: list(z.string()), expect: z.string() }).readonly(),
  /** Counts packages, free storage and memory, before or after they are taken away. */
  z.object({ kind: z.literal("measure"), when: z.enum(["before", "after"]) }).readonly(),
  /** Takes named packages away, each for all or where that is refused for the first user; then reads which are gone. */
  z.object({ kind: z.literal("uninstall"), list: z.string(), packages: list(z.string()) }).readonly(),
  /** Writes a value down, to compare with at the end; it stops nothing. */
  z.object({ kind: z.literal("record"), how: z.enum(["getprop", "getvar"]), name: z.string() }).readonly(),
]);
export type Gate = z.infer<typeof Gate>;

/** Keys that are held together, and for how many seconds; one after the other without a pause. */
export const Hold = z.object({ keys: list(z.string()), seconds: z.number() }).readonly();
export type Hold = z.infer<typeof Hold>;

/**
 * What is set in the window of a flasher: every slot and every tick of it, so that nothing is left to a guess. Files by
 * their place in the folder of files; null: the slot stays empty.
 */
export const FlasherSettings = z
  .object({
    /** For download mode. */
    edition: FlasherEdition.nullable(),
    slots: list(z.object({ slot: z.string(), file: z.string().nullable() }).readonly()),
    ticks: list(z.object({ tick: z.string(), says: z.string(), on: z.boolean() }).readonly()),
    /** For a loader board: its rows, and the cleaned partition list. A file that begins with kept: is one of the device's own. */
    rows: list(z.object({ row: z.string(), file: z.string().nullable(), on: z.boolean() }).readonly()).default([]),
    list: z.string().nullable().default(null),
  })
  .readonly();
export type FlasherSettings = z.infer<typeof FlasherSettings>;

/** What is done in a step: a command of a public client, something done with fingers, or a look that may stop the run. */
export const Deed = z.discriminatedUnion("kind", [
  z
    .object({
      kind: z.literal("command"),
      tool: z.enum(["fastboot", "adb"]),
      words: list(Word),
      mayFail: z.boolean().optional(),
      /** What is run one after the other where the command fails; those behind the first may fail. */
      instead: list(list(Word)).optional(),
    })
    .readonly(),
  z.object({ kind: z.literal("hands"), code: z.string(), holds: list(Hold).optional() }).readonly(),
  /** Done in the window of a flasher, by its settings and by nothing else. */
  z.object({ kind: z.literal("flasher"), settings: FlasherSettings }).readonly(),
  z.object({ kind: z.literal("gate"), gate: Gate }).readonly(),
]);
export type Deed = z.infer<typeof Deed>;

/** Facts by key, as a step or an operation makes them; null: not known any more. */
export const Makes = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]));
export type Makes = Readonly<z.infer<typeof Makes>>;

/** One step at the bench. */
export const Step = z
  .object({
    /** Stable within a runbook; for a step done with fingers it begins with the code the hands port takes. */
    code: z.string(),
    /** Place of the operation it belongs to; -1 for preparation, the number of operations for the end. */
    operation: z.number(),
    title: z.string(),
    says: z.string(),
    deed: Deed,
    normal: z.string(),
    otherwise: z.string(),
    usualSeconds: z.number(),
    latestSeconds: z.number(),
    /** A deliberate yes is asked for: what can't be undone. */
    caution: z.string().nullable(),
    /** Title of the later step that depends on this one. */
    neededBy: z.string().nullable(),
    /** What is known of the device when it is done, beside what its operation makes. */
    makes: Makes.optional(),
  })
  .readonly();
export type Step = z.infer<typeof Step>;

/** An operation of the way, with what it makes of the device: facts are appended when its last step is done. */
export const RunOperation = z
  .object({
    kind: z.string(),
    image: z.string().nullable(),
    says: z.string(),
    makes: Makes,
    /** What is left to know where it was begun, not finished, and the device does not start. */
    interrupted: Makes,
    /** What is known besides where it was done and the device does not start. */
    ifNotStarting: Makes.default({}),
  })
  .readonly();
export type RunOperation = z.infer<typeof RunOperation>;

/** The exact sheet for one device and one way. */
export const Runbook = z
  .object({
    format: z.literal("upshift-lane-runbook"),
    version: z.literal(1),
    tag: z.string(),
    model: z.string(),
    modelTitle: z.string(),
    /** Last four characters only. */
    serialEnd: z.string().nullable(),
    way: z.string(),
    from: z.string(),
    to: z.string(),
    promisedRelease: z.string(),
    promisedApi: z.number(),
    files: list(FileRef),
    cautions: list(z.string()),
    /** The chance that it goes well, and what that rests on. */
    odds: z.string().default(""),
    /** How the device comes back when it goes wrong; said before the first write. */
    wayBack: z.string().default(""),
    /** Stock package of the way back, with its files. */
    backFiles: list(FileRef).default([]),
    operations: list(RunOperation).default([]),
    steps: list(Step),
  })
  .readonly();
export type Runbook = z.infer<typeof Runbook>;

/**
 * Reads a runbook as it was kept.
 *
 * @example readRunbook(writeRunbookJson(runbook)).tag // "TH-001" …
 */
export const readRunbook = (json: string): Runbook => Runbook.parse(JSON.parse(json));

/** The place of the last step of an operation; -1 where it has none. */
export const lastStepOf = (runbook: Pick<Runbook, "steps">, operation: number) =>
  runbook.steps.findLastIndex((s) => s.operation === operation);
