import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";

const FOLDER = path.resolve("testing/approved");

/**
 * Holds a text against the one that somebody has read and approved. Where it was meant to change:
 * `APPROVE=1 npx jest approved`, then read the difference before it is committed.
 *
 * @throws Error naming the first line that differs
 */
export function expectApproved(name: string, lines: readonly string[]): void {
  const file = path.join(FOLDER, `${name}.txt`);
  if (process.env.APPROVE) fs.writeFileSync(file, `${lines.join("\n")}\n`);
  const approved = fs.readFileSync(file, "utf8").trimEnd().split("\n");
  const at = approved.findIndex((line, i) => line !== lines[i]);
  if (at < 0 && approved.length === lines.length) return;
  const line = at < 0 ? approved.length : at;
  throw new Error(
    `${name}.txt, line ${line + 1}:\n  approved: ${approved[line] ?? "nothing more"}\n  now:      ${lines[line] ?? "nothing more"}`,
  );
}

/** A short digest of something, for what is too long to be read and must not change all the same. */
export const digestOf = (thing: unknown): string =>
  createHash("sha256").update(JSON.stringify(thing)).digest("hex").slice(0, 10);
