import fs from "node:fs";
import path from "node:path";
import { log } from "~/app/server/http/log";
import { keepDoing } from "~/app/server/jobs/keepDoing";
import { makeBackup } from "./backup";

/** How often it is looked whether today's is there, seconds. */
const LOOK_EVERY = 600;
const NAME = /^lane-\d{4}-\d\d-\d\d\.tar\.gz$/;

/**
 * Makes today's backup where there is none, and deletes the oldest beyond those that are kept.
 *
 * @returns the file that was made, or null
 */
export async function backUpToday(db: string, folder: string, kept: number, at: Date): Promise<string | null> {
  fs.mkdirSync(folder, { recursive: true });
  const file = path.join(folder, `lane-${at.toISOString().slice(0, 10)}.tar.gz`);
  if (fs.existsSync(file)) return null;
  const { missing } = await makeBackup(db, file, at);
  if (missing) log.warn({ missing }, "photos or papers that cases name are not there: today's backup has them neither");
  const all = fs
    .readdirSync(folder)
    .filter((name) => NAME.test(name))
    .sort();
  for (const old of all.slice(0, Math.max(0, all.length - kept))) fs.rmSync(path.join(folder, old));
  return file;
}

/** Keeps a backup of every day for as long as the lane runs. */
export function keepDaily(db: string, folder: string, kept: number) {
  const look = keepDoing(LOOK_EVERY, "today's backup could not be made", async () => {
    const made = await backUpToday(db, folder, kept, new Date());
    if (made) log.info("today's backup was made");
  });
  void look?.();
}
