import { statfsSync } from "node:fs";
import path from "node:path";
import { dbFile } from "./dbFile";
import { refused } from "./refused";

/** Room that has to be left for a change, bytes: what a form writes, its seal and the database's own log, many times over. */
const SPARE = 8_000_000;

export const FULL =
  "The disk of the computer on which the lane runs is full. Nothing was changed: tell whoever runs it, then send this again";

/**
 * Sees that there is room for what a form asks for. Found out while it is written, it would come back without words.
 *
 * @param sent bytes of the form
 * @throws Response 507 in words
 */
export function needRoom(sent: number, free = freeBytes()) {
  if (free < SPARE + sent) throw refused(507, FULL);
}

/** Bytes that are free where the database lies; what cannot be asked is not in the way. */
function freeBytes(): number {
  try {
    const { bavail, bsize } = statfsSync(path.dirname(dbFile()));
    return bavail * bsize;
  } catch {
    return Number.POSITIVE_INFINITY;
  }
}
