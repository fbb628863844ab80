import { FileReadError } from "../readError";
import { type Finding, type NamedPart, TELLS_NOTHING } from "../report";
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
    if (type === "0" || type === "\0") images.push({ name: text(block.subarray(0, 100)).slice(-120), bytes: size });
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
    says: `Stock package for download mode (tar) with ${images.length} files${md5 ? ", with its MD5 behind the end" : ""}: ${images
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
