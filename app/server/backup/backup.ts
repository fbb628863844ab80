import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import { create, extract, list } from "tar";
import { z } from "zod";
import { exhibitFolder } from "~/app/server/clearance/exhibits";
import { openCopy, openStore } from "~/store/database";
import { verifyHistory } from "~/store/seal";

/** What lies in a backup: each file with its bytes and SHA-256, and the last digest of the history. */
const Manifest = z.strictObject({
  kind: z.literal("upshift-lane-backup"),
  at: z.iso.datetime(),
  schema: z.number().int(),
  history: z.string().length(64),
  files: z.array(z.strictObject({ name: z.string().max(200), bytes: z.number().int(), sha256: z.string().length(64) })),
});
export type Manifest = z.infer<typeof Manifest>;

/** What a backup that was made holds, and how many files it could not hold: named in cases, and not in their folder. */
export type Made = Manifest & { readonly missing: number };

const DATABASE = "lane.db";
const EVIDENCE = "evidence";

/** What makes a backup useless, in words. */
export class BackupRefused extends Error {}

/**
 * Writes database and evidence into one archive (tar, gzip) while the lane goes on: the database by SQLite's online backup,
 * so that it is one moment of it. The archive appears under its name when it is whole, never before.
 *
 * @source SQLite documentation, "Online Backup API"; POSIX pax for the archive
 */
export async function makeBackup(db: string, file: string, at: Date): Promise<Made> {
  if (!fs.existsSync(db)) throw new BackupRefused(`There is no database ${db}`);
  fs.mkdirSync(path.dirname(path.resolve(file)), { recursive: true });
  const folder = fs.mkdtempSync(`${path.resolve(file)}.making-`);
  try {
    const store = openStore(db);
    try {
      await store.backup(path.join(folder, DATABASE));
    } finally {
      store.close();
    }
    const copy = openCopy(path.join(folder, DATABASE));
    const names = (copy.prepare("SELECT DISTINCT digest FROM evidence WHERE removed IS NULL").pluck().all() as string[])
      .filter((digest) => /^[0-9a-f]{64}$/.test(digest))
      .map((digest) => path.join(digest.slice(0, 2), digest));
    const seen = verifyHistory(copy);
    const schema = copy.pragma("user_version", { simple: true }) as number;
    copy.close();
    if (!seen.ok)
      throw new BackupRefused(`The history was changed: ${seen.says}. Nothing was backed up; see npm run verify`);
    const from = exhibitFolder(db);
    const kept = names.filter((name) => fs.existsSync(path.join(from, name)));
    for (const name of kept) {
      const source = path.join(from, name);
      fs.mkdirSync(path.join(folder, EVIDENCE, path.dirname(name)), { recursive: true });
      fs.copyFileSync(source, path.join(folder, EVIDENCE, name));
    }
    const inside = [DATABASE, ...kept.map((n) => path.posix.join(EVIDENCE, ...n.split(path.sep)))];
    const files = await Promise.all(inside.map((name) => described(folder, name)));
    const manifest: Manifest = {
      kind: "upshift-lane-backup",
      at: at.toISOString(),
      schema,
      history: seen.digest,
      files,
    };
    fs.writeFileSync(path.join(folder, "manifest.json"), JSON.stringify(manifest, null, 2));
    const part = path.join(folder, "archive.part");
    await create({ gzip: true, cwd: folder, file: part, portable: true, mtime: at }, ["manifest.json", ...inside]);
    flush(part);
    fs.renameSync(part, file);
    return { ...manifest, missing: names.length - kept.length };
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * Brings a backup back as a database that is not there yet, with its evidence beside it. Everything is checked first: every
 * digest, the database's own integrity, the digest of the history.
 *
 * @throws BackupRefused in words; nothing is left behind then
 */
export async function restoreBackup(file: string, db: string): Promise<Manifest> {
  const target = path.resolve(db);
  if (!fs.existsSync(file)) throw new BackupRefused(`There is no file ${file}`);
  for (const there of [target, `${target}-wal`, exhibitFolder(target)])
    if (fs.existsSync(there))
      throw new BackupRefused(
        `${there} is there already. Name a place where nothing is: what runs is never overwritten`,
      );
  fs.mkdirSync(path.dirname(target), { recursive: true });
  const folder = fs.mkdtempSync(`${target}.restoring-`);
  try {
    const strange: string[] = [];
    await list({ file, strict: true, onReadEntry: (e) => void (isOurs(e.path, e.type) || strange.push(e.path)) }).catch(
      (error: Error) => {
        throw new BackupRefused(`${file} is no whole archive (${error.message}). Take another backup`);
      },
    );
    if (strange.length) throw new BackupRefused(`${file} holds “${strange[0]}”: that is no backup of a lane`);
    await extract({ file, cwd: folder, strict: true, preserveOwner: false });
    const read = Manifest.safeParse(readJson(path.join(folder, "manifest.json")));
    if (!read.success) throw new BackupRefused(`${file} has no list of what is in it: that is no backup of a lane`);
    for (const wanted of read.data.files) {
      const place = path.join(folder, wanted.name);
      const is = isOurs(wanted.name, "File") && fs.existsSync(place) ? await described(folder, wanted.name) : null;
      if (!is || is.sha256 !== wanted.sha256 || is.bytes !== wanted.bytes)
        throw new BackupRefused(`${wanted.name} in ${file} is not what was backed up. Take another backup`);
    }
    checkDatabase(path.join(folder, DATABASE), read.data);
    if (fs.existsSync(path.join(folder, EVIDENCE))) fs.renameSync(path.join(folder, EVIDENCE), exhibitFolder(target));
    flush(path.join(folder, DATABASE));
    fs.renameSync(path.join(folder, DATABASE), target);
    return read.data;
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

function checkDatabase(file: string, manifest: Manifest) {
  const copy = openCopy(file);
  try {
    const whole = copy.pragma("integrity_check", { simple: true });
    if (whole !== "ok")
      throw new BackupRefused(`The database in the backup is damaged (${String(whole).slice(0, 120)})`);
    const seen = verifyHistory(copy);
    if (!seen.ok || seen.digest !== manifest.history)
      throw new BackupRefused("The history in the backup is not the one that was backed up");
  } finally {
    copy.close();
  }
}

const isOurs = (name: string, type: string): boolean =>
  (type === "File" || type === "OldFile") &&
  /^(manifest\.json|lane\.db|evidence\/[0-9a-f]{2}\/[0-9a-f]{64})$/.test(name);

async function described(folder: string, name: string) {
  const hash = createHash("sha256");
  await pipeline(fs.createReadStream(path.join(folder, name)), hash);
  return { name, bytes: fs.statSync(path.join(folder, name)).size, sha256: hash.digest("hex") };
}

function readJson(file: string): unknown {
  try {
    return JSON.parse(fs.readFileSync(file, "utf8"));
  } catch {
    return null;
  }
}

function flush(file: string) {
  const handle = fs.openSync(file, "r+");
  fs.fsyncSync(handle);
  fs.closeSync(handle);
}
