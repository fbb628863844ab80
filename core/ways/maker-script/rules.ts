import { judgeScript, type ReadScript } from "~/core/flashscript/readScript";
import { fails, HOLDS } from "~/core/upgrade/outcome";
import { imageRule } from "~/core/upgrade/rule";

const kept = new Map<string, ReadScript>();
/** Scripts kept at most: a catalogue has a few. */
const MOST = 200;

/** A script is read once, however often the search asks. */
export function scriptOf(text: string): ReadScript {
  let read = kept.get(text);
  if (!read) {
    if (kept.size >= MOST) kept.clear();
    read = judgeScript(text);
    kept.set(text, read);
  }
  return read;
}

export const doesNotLock = imageRule([], ({ entry: { image } }) => {
  const lock = scriptOf(image.script ?? "").locks[0];
  return lock
    ? fails(
        "script.locks",
        `Line ${lock.line} of its script locks the device: take the package's variant that does not`,
      )
    : HOLDS;
});

export const isUnderstood = imageRule([], ({ entry: { image } }) => {
  const { unknown, writes } = scriptOf(image.script ?? "");
  if (unknown[0]) return fails("script.unknown", `Line ${unknown[0].line} of its script: ${unknown[0].says}`);
  return writes.length ? HOLDS : fails("script.unknown", "Its script writes nothing");
});

export const hasItsFiles = imageRule([], ({ entry: { image } }) => {
  const names = new Set(image.files.map((f) => f.name));
  const missing = scriptOf(image.script ?? "").writes.find((l) => l.write && !names.has(l.write.file));
  return missing?.write
    ? fails("script.no-file", `Line ${missing.line} writes ${missing.write.file}, which is not among its files`)
    : HOLDS;
});
