import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { fileTypeFromBuffer } from "file-type/core";
import { dbFile } from "~/app/server/http/dbFile";
import { log } from "~/app/server/http/log";
import { oneLine } from "~/core/clearance/letter";
import { isFinished } from "~/core/clearance/states";
import type { Hand, Store } from "~/store/database";
import { addExhibit, allExhibits, type Exhibit, removeExhibit } from "~/store/exhibits";
import { readPolicy } from "~/store/policy";
import { casesOf } from "./cases";

/** Largest photo or paper, bytes. */
export const MAX_EXHIBIT_BYTES = 10_000_000;

/** What is taken, told by the file's own first bytes and never by its name. */
const TYPES: Readonly<Record<string, string>> = {
  "image/jpeg": "JPEG picture",
  "image/png": "PNG picture",
  "image/webp": "WebP picture",
  "application/pdf": "PDF",
};

/** The folder in which files lie under their digest: beside the database, or where UPSHIFT_EVIDENCE says for the one that runs. */
export const exhibitFolder = (database: string): string =>
  process.env.UPSHIFT_EVIDENCE && path.resolve(database) === path.resolve(dbFile())
    ? path.resolve(process.env.UPSHIFT_EVIDENCE)
    : `${path.resolve(database)}-files`;

const placeOf = (folder: string, digest: string) => path.join(folder, digest.slice(0, 2), digest);

/**
 * Keeps a photo or paper with a case. It is on the disk, whole, before its entry is written: an entry never points at nothing.
 *
 * @returns what is wrong in words, or null
 */
export async function keepExhibit(
  store: Store,
  folder: string,
  device: number,
  file: { readonly name: string; readonly bytes: Uint8Array },
  hand: Hand,
): Promise<string | null> {
  const { bytes } = file;
  if (bytes.length === 0) return "The file is empty";
  if (bytes.length > MAX_EXHIBIT_BYTES)
    return `The file has ${(bytes.length / 1e6).toFixed(0)} MB; a photo or paper may have ${MAX_EXHIBIT_BYTES / 1e6} MB. Take a smaller picture`;
  const told = await fileTypeFromBuffer(bytes).catch(() => undefined);
  if (!told || !Object.hasOwn(TYPES, told.mime))
    return `“${oneLine(file.name).slice(0, 60)}” is ${told ? `a ${told.ext} file` : "not what its name says"}, judged by what is in it. ${Object.values(TYPES).join(", ")} are kept`;
  const digest = createHash("sha256").update(bytes).digest("hex");
  try {
    writeWhole(placeOf(folder, digest), bytes);
  } catch (error) {
    log.error(error, "a photo or paper could not be written");
    const full = (error as { code?: string }).code === "ENOSPC";
    return `The file could not be kept${full ? ": the disk is full" : ""}. Nothing was written; tell whoever runs the lane`;
  }
  const name = path.basename(oneLine(file.name).replaceAll("\\", "/")).slice(0, 100) || `file.${told.ext}`;
  addExhibit(store, { device, digest, name, type: told.mime, bytes: bytes.length, ...hand });
  return null;
}

/** Writes beside and renames: a power cut leaves no half file under the digest. */
function writeWhole(place: string, bytes: Uint8Array) {
  // A file under its digest that is not what the digest says is half of one: it is written anew.
  if (readWhole(place)) return;
  fs.mkdirSync(path.dirname(place), { recursive: true });
  const beside = `${place}.${process.pid}.part`;
  const handle = fs.openSync(beside, "w", 0o600);
  try {
    // One call may write less than all of it.
    for (let at = 0; at < bytes.length; ) at += fs.writeSync(handle, bytes, at);
    fs.fsyncSync(handle);
  } catch (error) {
    fs.rmSync(beside, { force: true });
    throw error;
  } finally {
    fs.closeSync(handle);
  }
  fs.renameSync(beside, place);
}

/** The bytes under a digest; null where there are none, or they are not what the digest says. */
function readWhole(place: string): Uint8Array | null {
  if (!fs.existsSync(place)) return null;
  const bytes = fs.readFileSync(place);
  return createHash("sha256").update(bytes).digest("hex") === path.basename(place) ? bytes : null;
}

/** The bytes of a photo or paper; null when it was taken away, is not on the disk any more, or is not what it was. */
export function readExhibit(folder: string, exhibit: Exhibit): Uint8Array | null {
  return exhibit.removed ? null : readWhole(placeOf(folder, exhibit.digest));
}

/** Takes a file away for good; that it was there, with its digest, stays in the history. */
export function takeExhibitAway(store: Store, folder: string, exhibit: Exhibit, at: string) {
  if (removeExhibit(store, exhibit, at)) fs.rmSync(placeOf(folder, exhibit.digest), { force: true });
}

/** Deletes what lies in the folder and belongs to no entry: halves of files, files whose entry was never written. @returns how many */
export function sweepOrphans(store: Store, folder: string, at: Date): number {
  if (!fs.existsSync(folder)) return 0;
  const known = new Set(
    allExhibits(store)
      .filter((e) => !e.removed)
      .map((e) => e.digest),
  );
  let swept = 0;
  for (const name of fs.readdirSync(folder, { recursive: true, encoding: "utf8" })) {
    const place = path.join(folder, name);
    const stat = fs.statSync(place, { throwIfNoEntry: false });
    // What is being written this minute has no entry yet.
    if (!stat?.isFile() || known.has(path.basename(place)) || at.getTime() - stat.mtimeMs < YOUNG) continue;
    fs.rmSync(place, { force: true });
    swept++;
  }
  return swept;
}
const YOUNG = 3_600_000;

/** Deletes the files of cases that have closed longer ago than the policy keeps them. @returns how many */
export function sweepExhibits(store: Store, folder: string, at: Date): number {
  const { deleteEvidenceAfter } = readPolicy(store).policy.followUp;
  const caseOf = casesOf(store);
  const old = allExhibits(store).filter((e) => {
    const was = caseOf(e.device);
    const since = isFinished(was.state) ? was.since : null;
    return !e.removed && since !== null && at.getTime() - Date.parse(since) > deleteEvidenceAfter * 86_400_000;
  });
  for (const exhibit of old) takeExhibitAway(store, folder, exhibit, at.toISOString());
  return old.length;
}
