import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";

/**
 * A file of a FAT card, read by mtools as any other reader would.
 *
 * @param card file of the card's image
 * @returns its bytes; null where the card holds no such file
 */
export function readFromCard(card: string, name: string): Uint8Array | null {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-card-"));
  const out = path.join(folder, "out");
  try {
    execFileSync("mcopy", ["-n", "-i", card, `::/${name}`, out], { stdio: "ignore" });
    return new Uint8Array(fs.readFileSync(out));
  } catch {
    return null;
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

/** Folders at the root of a card; null where it is no FAT card. */
export function rootFolders(card: string): readonly string[] | null {
  try {
    const listed = execFileSync("mdir", ["-b", "-i", card, "::/"], {
      encoding: "utf8",
      stdio: ["ignore", "pipe", "ignore"],
    });
    return listed.split("\n").flatMap((line) => /^::\/([^/]+)\/$/.exec(line.trim())?.[1] ?? []);
  } catch {
    return null;
  }
}
