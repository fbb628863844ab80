import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { z } from "zod";
import { EDITION_SLOTS, FLASHER_TICK_KEYS, FLASHER_TICKS, FlasherEdition } from "~/core/catalogue/flasherSlots";
import { readSlotTar, type SlotPart } from "~/core/files/standIn";
import { DeviceLine } from "./deviceLine";

/** What somebody set in the flasher's window: files by slot, relative to its folder; ticks that were touched. */
export const Asked = z.strictObject({
  edition: FlasherEdition,
  slots: z.record(z.string().max(40), z.string().max(200)),
  ticks: z.partialRecord(z.enum(FLASHER_TICK_KEYS), z.boolean()).default({}),
});
export type Asked = z.infer<typeof Asked>;

/** Rows of a loader board, as they are ticked, with the cleaned list. A file that begins with kept: is one of the device's own. */
export const AskedRows = z.strictObject({
  list: z.string().max(20_000),
  rows: z
    .array(z.strictObject({ row: z.string().max(40), file: z.string().max(300).nullable(), on: z.boolean() }))
    .max(60),
});
export type AskedRows = z.infer<typeof AskedRows>;

/** A dump: the beginning of each file's name. */
export const AskedDump = z.strictObject({ prefix: z.string().regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,100}$/) });
export type AskedDump = z.infer<typeof AskedDump>;

export interface Ran {
  readonly ok: boolean;
  /** What its window shows, line by line; the last one is the count. */
  readonly lines: readonly string[];
}

export interface FlasherPlace {
  /** Folder of files. */
  readonly files: string;
  /** Folder of what is kept of the device; null where nothing is. */
  readonly kept?: string;
  /** Where the device listens while it is in a mode of the flasher's. */
  readonly host: string;
  readonly port: number;
}

export const md5 = (bytes: Uint8Array) => createHash("md5").update(bytes).digest("hex");

/** A file inside the folder; null where the name leads out of it. */
export function fileIn(folder: string, name: string): string | null {
  const full = path.resolve(folder, name);
  return full.startsWith(path.resolve(folder) + path.sep) && fs.existsSync(full) && fs.statSync(full).isFile()
    ? full
    : null;
}

/** Every part of every slot, read and checked before anything is written. @returns words where something is wrong */
function partsOf({ edition, slots }: Asked, folder: string, say: (line: string) => void): SlotPart[] | string {
  const names = EDITION_SLOTS[edition];
  const stray = Object.keys(slots).find((slot) => !names.includes(slot));
  if (stray) return `there is no slot “${stray}” in this edition: ${names.join(", ")}`;
  const parts: SlotPart[] = [];
  // In the order of its slots, whatever order they were set in.
  for (const slot of names) {
    const name = slots[slot];
    if (name === undefined) continue;
    const file = fileIn(folder, name);
    if (!file) return `${slot}: there is no file ${name}`;
    say(`${slot}: checking the digest of ${path.basename(file)} (the window may say “not responding”)`);
    const read = readSlotTar(new Uint8Array(fs.readFileSync(file)), md5);
    if (typeof read === "string") return `${slot}: ${read}`;
    parts.push(...read);
    say(`${slot}: ${read.map((p) => p.partition).join(", ")}`);
  }
  return parts.length ? parts : "every slot is empty";
}

/**
 * Does what is set, and only that: ticks that were not touched stand as they stand by themselves.
 *
 * The bytes that go to the device are those inside the tars; a device that refuses one ends the run there, with what was
 * written before it written.
 */
export async function runFlasher(asked: Asked, place: FlasherPlace): Promise<Ran> {
  const lines: string[] = [];
  const say = (line: string) => lines.push(line);
  const failed = (why: string): Ran => ({ ok: false, lines: [...lines, `Refused: ${why}`, "0 succeeded, 1 failed"] });
  const parts = partsOf(asked, place.files, say);
  if (typeof parts === "string") return failed(parts);
  const ticked = (tick: (typeof FLASHER_TICK_KEYS)[number]) => asked.ticks[tick] ?? FLASHER_TICKS[tick].usual;
  const line = await DeviceLine.open(place);
  if (typeof line === "string") return failed(line);
  try {
    const hello = await line.ask({ do: "hello" });
    if (!hello.ok || hello.mode !== "download") return failed("the port shows no device in download mode");
    say(`added: a device in download mode (${hello.board})`);
    if (ticked("partition-table")) await line.ask({ do: "partition-table" });
    if (ticked("erase-first")) await line.ask({ do: "erase-all" });
    if (ticked("bootloader-twice") && !parts.some((p) => p.partition === "bootloader"))
      return failed("the bootloader is to be renewed, and no slot holds one");
    for (const part of parts) {
      const answer = await line.write(part.partition, part.bytes);
      if (!answer.ok) return failed(`${part.partition}: ${answer.says ?? "no reason given"}`);
      say(`${part.partition}: written`);
    }
    await line.ask({ do: "finish", restart: ticked("restart-by-itself") });
    say(ticked("restart-by-itself") ? "restarting the device" : "left in download mode");
    return { ok: true, lines: [...lines, "1 succeeded, 0 failed"] };
  } catch (error) {
    return failed((error as Error).message);
  } finally {
    line.close();
  }
}
