import { FileReadError } from "../readError";
import { type FileContent, type Finding, pathInside, TELLS_NOTHING } from "../report";
import { readMetadata } from "./ota";
import { textOf, type ZipEntry } from "./zip";

type Script = Extract<FileContent, { kind: "factory" }>["scripts"][number];

const SCRIPT = /(^|\/)[^/]+\.(sh|bat|cmd)$/i;
/** The same and what else carries commands of the client. */
const ANY_SCRIPT = /(^|\/)(?:[^/]+\.(?:sh|bat|cmd|command|ps1|py|txt)|flash[^/.]*)$/i;
const MAX_SCRIPT = 500_000;
const IMAGE = /\.img$/i;

const LOCKS = /\b(flashing\s+lock\w*|oem\s+(re)?lock\w*)\b/i;

/** The commands of a script, without what is only said: several may stand on a line. */
const commandsOf = (text: string): string[] =>
  text
    .slice(0, MAX_SCRIPT)
    .split(/\r?\n/)
    .filter((line) => !/^\s*(#|@?rem\b|::)/i.test(line))
    .flatMap((line) => line.split(/&&|\|\||[;&|]/))
    .map((part) => part.trim())
    .filter((part) => !/^@?echo\b/i.test(part));

const scriptsIn = (entries: readonly ZipEntry[], names: RegExp) =>
  entries.filter((e) => names.test(e.name) && e.size < MAX_SCRIPT).slice(0, 100);

/** A script's text; null where it is damaged: the digest of the whole tells that. */
async function readable(entry: ZipEntry): Promise<string | null> {
  try {
    return new TextDecoder().decode(await entry.bytes(MAX_SCRIPT));
  } catch (error) {
    if (error instanceof FileReadError) return null;
    throw error;
  }
}

/** Says which scripts of a package lock the bootloader; "" where none does. */
export async function lockingWords(entries: readonly ZipEntry[]): Promise<string> {
  const locking: string[] = [];
  for (const entry of scriptsIn(entries, ANY_SCRIPT)) {
    const text = await readable(entry);
    if (text !== null && commandsOf(text).some((c) => LOCKS.test(c))) locking.push(entry.name);
  }
  return locking.length
    ? `${locking.slice(0, 5).join(", ")} LOCKS the bootloader: never choose that one unless locking is the plan.`
    : "";
}

/**
 * What a bootloader script would do, by the client's words in it.
 *
 * @source AOSP fastboot client: `flash`, `flashing lock`, `oem lock`, `-w`, `erase`, `--slot`
 */
export function readScript(name: string, text: string): Script {
  const flashes: string[] = [];
  let [wipes, locks, both] = [false, false, false];
  for (const words of commandsOf(text)) {
    // A variable may stand for the client.
    if (LOCKS.test(words)) locks = true;
    if (!/\bfastboot\b/i.test(words)) continue;
    const flash = /\bflash(?::raw)?\s+([\w.-]{1,60})/i.exec(words);
    if (flash && flash[1].toLowerCase() !== "lock") flashes.push(flash[1]);
    if (/\s-w\b|\berase\s+(userdata|metadata)\b|\bformat(:\w+)?\s+userdata\b|flash\s+userdata\b/i.test(words))
      wipes = true;
    if (/--slot[= ]?(all|other)|_[ab]\b/i.test(words)) both = true;
  }
  return {
    name: name.slice(0, 400),
    wipes: wipes || locks,
    locks,
    slots: both ? "both" : flashes.length ? "one" : "unknown",
    flashes: [...new Set(flashes)].slice(0, 500),
  };
}

/** True when a zip is a package that a script or client writes from the bootloader. */
export function isFactory(entries: readonly ZipEntry[]): boolean {
  const inside = entries.some((e) => IMAGE.test(e.name) || /(^|\/)image-[^/]+\.zip$/i.test(e.name));
  return inside && entries.some((e) => SCRIPT.test(e.name) || /(^|\/)android-info\.txt$/.test(e.name));
}

/** Tells a bootloader-script package or factory zip: its scripts, what each does, what the device must have. */
export async function readFactory(entries: readonly ZipEntry[]): Promise<Finding> {
  const scripts: Script[] = [];
  for (const entry of scriptsIn(entries, SCRIPT)) {
    const script = readScript(entry.name, new TextDecoder().decode(await entry.bytes(MAX_SCRIPT)));
    if (script.flashes.length || script.wipes) scripts.push(script);
  }
  const info = readMetadata(
    ((await textOf(entries, /(^|\/)android-info\.txt$/)) ?? "").replaceAll(/^require\s+/gm, ""),
  );
  const images = entries.filter((e) => IMAGE.test(e.name));
  return {
    says: `Stock package for the bootloader: ${images.length} ${images.length === 1 ? "image" : "images"}, ${scripts.length} ${scripts.length === 1 ? "script" : "scripts"}.`,
    whole: {
      is: "unknown",
      says: "The directory at its end is there; only the digest or a test of the inside tells more",
    },
    expanded: entries.reduce((sum, e) => sum + e.size, 0),
    told: { ...TELLS_NOTHING, devices: (info.board ?? info.product ?? "").split(/[|,]/).filter(Boolean).slice(0, 200) },
    content: {
      kind: "factory",
      scripts,
      images: images.slice(0, 1000).map((e) => ({ name: pathInside(e.name), bytes: e.size })),
      requires: info,
    },
  };
}
