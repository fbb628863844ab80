import { FileReadError } from "../readError";
import { type Finding, type NamedPart, pathInside, TELLS_NOTHING } from "../report";
import { buffered, readAll, type Source } from "../source";

const BLOCK = 512;
const MAX_ENTRIES = 1000;

const text = (bytes: Uint8Array) => new TextDecoder("latin1").decode(bytes).replace(/\0.*$/s, "");

/**
 * A number field of a tar header: octal text, or base 256 where it is too large for that.
 *
 * @source POSIX.1-1988 ustar; GNU tar manual, "Extensions to the Basic Tar Format"
 */
function numberOf(field: Uint8Array): number | null {
  if (field[0] & 0x80) {
    let value = field[0] & 0x7f;
    for (const byte of field.subarray(1)) value = value * 256 + byte;
    return Number.isSafeInteger(value) ? value : null;
  }
  const digits = text(field).trim();
  return /^[0-7]*$/.test(digits) ? Number.parseInt(digits || "0", 8) : null;
}

/** A file's name: UTF-8 where it is that, else one byte a letter. */
function nameText(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  const used = end < 0 ? bytes : bytes.subarray(0, end);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(used);
  } catch {
    return text(used);
  }
}

/** Name in a header of its own: what stands before it (ustar), and it. */
function ownName(block: Uint8Array): string {
  const prefix =
    text(block.subarray(257, 262)) === "ustar" && block[263] === 0x30 ? nameText(block.subarray(345, 500)) : "";
  const name = nameText(block.subarray(0, 100));
  return prefix ? `${prefix}/${name}` : name;
}

/** Longest extended header that is read for a name. */
const MAX_EXTENDED = 65_536;

/**
 * The path an extended header gives to the file behind it; null where it gives none.
 *
 * @source POSIX.1-2001, pax interchange format: records "length key=value\\n"
 */
function paxPath(bytes: Uint8Array): string | null {
  for (let at = 0; at < bytes.length; ) {
    const blank = bytes.indexOf(32, at);
    const length = blank < 0 ? Number.NaN : Number(text(bytes.subarray(at, blank)));
    if (!Number.isInteger(length) || length <= 0) return null;
    const record = nameText(bytes.subarray(blank + 1, at + length - 1));
    if (record.startsWith("path=")) return record.slice(5);
    at += length;
  }
  return null;
}

/** The header's checksum: the sum of its bytes, its own field counted as blanks. */
function isHeader(block: Uint8Array): boolean {
  if (block.length < BLOCK) return false;
  let sum = 0;
  for (let i = 0; i < BLOCK; i++) sum += i >= 148 && i < 156 ? 32 : block[i];
  return numberOf(block.subarray(148, 156)) === sum && sum !== 256;
}

export const isTar = isHeader;

/**
 * Tells a tar package of images, with the MD5 line that download-mode packages carry behind their end.
 *
 * The line covers everything before it; whether it agrees is told after the digests were made.
 *
 * @throws FileReadError when the tar is damaged
 */
export async function readTar(source: Source): Promise<Finding> {
  const near = buffered(source);
  const images: NamedPart[] = [];
  let at = 0;
  let cut: string | null = null;
  /** A long name that stands before the header it belongs to. */
  let long: string | null = null;
  for (;;) {
    const block = await near.read(at, BLOCK);
    if (block.length < BLOCK) {
      cut = "the end mark is missing";
      break;
    }
    if (block.every((b) => b === 0)) break;
    if (!isHeader(block)) throw new FileReadError("damaged", `The tar is damaged after ${images.length} files`);
    const size = numberOf(block.subarray(124, 136));
    if (size === null) throw new FileReadError("damaged", "A header of the tar says an impossible size");
    const type = String.fromCharCode(block[156]);
    if (type === "0" || type === "\0") {
      images.push({ name: pathInside(long ?? ownName(block)), bytes: size });
      long = null;
    } else if ((type === "L" || type === "x") && size <= MAX_EXTENDED && at + BLOCK + size <= source.size) {
      const extended = await readAll(near, at + BLOCK, size, "a name of the tar");
      long = type === "L" ? nameText(extended) : (paxPath(extended) ?? long);
    }
    if (images.length > MAX_ENTRIES) throw new FileReadError("damaged", "The tar names too many files");
    const end = at + BLOCK + size;
    if (end > source.size) {
      cut = `${images.at(-1)?.name ?? "a file"} ends early, ${end - source.size} bytes are missing`;
      break;
    }
    at += BLOCK + Math.ceil(size / BLOCK) * BLOCK;
  }
  const md5 = cut ? null : await trailingMd5(source);
  return {
    says: `Stock package for download mode (tar) with ${images.length} ${images.length === 1 ? "file" : "files"}${md5 ? ", with its MD5 behind the end" : ""}: ${images
      .slice(0, 6)
      .map((i) => i.name)
      .join(", ")}${images.length > 6 ? "…" : ""}.`,
    whole: cut
      ? { is: "no", says: `Cut short: ${cut}` }
      : md5
        ? { is: "unknown", says: "Its MD5 tells when the whole file is read" }
        : { is: "yes", says: "Every file and the end mark are there; it carries no digest" },
    expanded: null,
    told: TELLS_NOTHING,
    content: { kind: "tar", images, md5 },
  };
}

/** The last line `<md5>  <name>` behind the tar, and how many bytes it covers. */
async function trailingMd5(source: Source): Promise<{ of: number; expect: string } | null> {
  const length = Math.min(300, source.size);
  const tail = new TextDecoder("latin1").decode(
    await readAll(source, source.size - length, length, "the end of the tar"),
  );
  const found = /([0-9a-fA-F]{32}) [ *][^\r\n\0]{1,200}\r?\n?$/.exec(tail);
  return found ? { of: source.size - (tail.length - found.index), expect: found[1].toLowerCase() } : null;
}
