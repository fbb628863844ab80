import CRC32 from "crc-32";
import { Gunzip } from "fflate";
import { Fields } from "../fields";
import { FileReadError } from "../readError";
import { type Finding, TELLS_NOTHING } from "../report";
import { readAll, type Source } from "../source";

const XZ_MAGIC = [0xfd, 0x37, 0x7a, 0x58, 0x5a, 0x00];
const MAX_INDEX = 16 * 1_048_576;

export const isXz = (head: Uint8Array): boolean => XZ_MAGIC.every((b, i) => head[i] === b);
export const isGzip = (head: Uint8Array): boolean => head[0] === 0x1f && head[1] === 0x8b && head[2] === 8;

/** A number in xz's variable-length form; 63 bits at most. */
function variable(f: Fields, at: { pos: number }): number {
  let value = 0;
  for (let shift = 0; shift < 63; shift += 7) {
    const byte = f.u8(at.pos++);
    value += (byte & 0x7f) * 2 ** shift;
    if ((byte & 0x80) === 0) {
      if (!Number.isSafeInteger(value)) break;
      return value;
    }
  }
  throw new FileReadError("damaged", "The index of the xz file is damaged");
}

/**
 * Unpacked size of an xz file, from the index at its end; nothing is unpacked.
 *
 * @throws FileReadError when the end or the index is damaged: the file was cut short
 * @source The .xz File Format, version 1.2.0: stream footer (2.1.2), stream padding (2.2), index (4)
 */
export async function xzSize(source: Source): Promise<number> {
  let end = source.size;
  let total = 0;
  while (end > 0) {
    const padded = await zerosBefore(source, end);
    if (padded % 4 !== 0) throw new FileReadError("damaged", "The zeros behind the xz stream are no multiple of four");
    // Padding may stand behind every stream, the last one too; a footer never ends in zeros.
    if (padded > 0) {
      end -= padded;
      if (end === 0) throw new FileReadError("damaged", "The xz file has no whole stream");
      continue;
    }
    if (end < 32) throw new FileReadError("cut-short", "The xz file has no whole stream");
    const footer = new Fields(await readAll(source, end - 12, 12, "the xz footer"), true, "the xz footer");
    if (footer.u8(10) !== 0x59 || footer.u8(11) !== 0x5a)
      throw new FileReadError("cut-short", "The xz file does not end as it should: it was cut short");
    const indexSize = (footer.u32(4) + 1) * 4;
    if (indexSize > MAX_INDEX || indexSize > end - 24)
      throw new FileReadError("damaged", "The xz footer says an impossible index");
    const index = new Fields(
      await readAll(source, end - 12 - indexSize, indexSize, "the xz index"),
      true,
      "the xz index",
    );
    if (index.u8(0) !== 0) throw new FileReadError("damaged", "The index of the xz file is damaged");
    const at = { pos: 1 };
    const records = variable(index, at);
    if (records > indexSize) throw new FileReadError("damaged", "The index of the xz file is damaged");
    let blocks = 0;
    for (let i = 0; i < records; i++) {
      const unpadded = variable(index, at);
      blocks += Math.ceil(unpadded / 4) * 4;
      total += variable(index, at);
    }
    const begin = end - 12 - indexSize - blocks - 12;
    if (!Number.isSafeInteger(total) || begin < 0)
      throw new FileReadError("damaged", "The index of the xz file says impossible sizes");
    if (!isXz(await source.read(begin, 6)))
      throw new FileReadError("damaged", "The index of the xz file does not lead to its beginning: it is damaged");
    end = begin;
  }
  return total;
}

/** How many zero bytes stand before a place, at most 64 KiB of them: padding is some bytes, not more. */
async function zerosBefore(source: Source, end: number): Promise<number> {
  const length = Math.min(65_536, end);
  const bytes = await readAll(source, end - length, length, "the xz file");
  let zeros = 0;
  while (zeros < length && bytes[length - 1 - zeros] === 0) zeros++;
  return zeros;
}

/** Name of the file inside: that of the packed file without its ending. */
const innerName = (name: string) => name.replace(/\.(xz|gz|tgz)$/i, (e) => (e.toLowerCase() === ".tgz" ? ".tar" : ""));

/** Tells an xz image. */
export async function readXz(source: Source): Promise<Finding> {
  const expanded = await xzSize(source);
  return packed("xz", expanded, source.name);
}

/** Gzip files up to this size are unpacked to count; what comes out is thrown away. */
const MAX_COUNTED = 64 * 1_048_576;
const STEP = 4 * 1_048_576;

/**
 * Tells a gzip image. Its last four bytes hold the size of its last member modulo 2^32 and nothing of the members before, so
 * the size is counted by unpacking, or not told at all.
 *
 * @source RFC 1952, section 2.2 (a file is a series of members) and 2.3.1 (CRC32, ISIZE)
 */
export async function readGzip(source: Source): Promise<Finding> {
  if (source.size < 18) throw new FileReadError("cut-short", "The gzip file has no whole member: it was cut short");
  const size = source.size <= MAX_COUNTED ? await gzipSize(source) : null;
  return packed("gzip", size, source.name);
}

/** Behind each member stand the checksum of what comes out of it and its size modulo 2^32, bytes. */
const TRAILER = 8;

/**
 * Unpacked bytes of all members, each held against its checksum.
 *
 * @throws FileReadError where it ends before its last member does, or is damaged
 */
async function gzipSize(source: Source): Promise<number> {
  const members = [{ end: 0, bytes: 0, sum: 0 }];
  let whole = false;
  const gunzip = new Gunzip((chunk, final) => {
    const member = members[members.length - 1];
    member.bytes += chunk.length;
    member.sum = CRC32.buf(chunk, member.sum);
    whole = final;
  });
  gunzip.onmember = (begin) => {
    members[members.length - 1].end = begin;
    members.push({ end: 0, bytes: 0, sum: 0 });
  };
  try {
    for (let at = 0; at < source.size; at += STEP) {
      const length = Math.min(STEP, source.size - at);
      gunzip.push(await readAll(source, at, length, "the gzip file"), at + length >= source.size);
    }
  } catch (error) {
    if (error instanceof FileReadError) throw error;
    throw new FileReadError(
      "damaged",
      "The gzip file can't be unpacked: it is damaged or was cut short. Fetch it again",
    );
  }
  if (!whole)
    throw new FileReadError("cut-short", "The gzip file ends in the middle: it was cut short. Fetch it again");
  members[members.length - 1].end = source.size;
  for (const { end, bytes, sum } of members) {
    const trailer = new Fields(
      await readAll(source, end - TRAILER, TRAILER, "the gzip trailer"),
      true,
      "the gzip trailer",
    );
    if (trailer.u32(0) !== sum >>> 0 || trailer.u32(4) !== bytes % 2 ** 32)
      throw new FileReadError(
        "damaged",
        "The checksum of the gzip file does not agree with what comes out of it: it is damaged. Fetch it again",
      );
  }
  return members.reduce((sum, { bytes }) => sum + bytes, 0);
}

/** @param expanded unpacked bytes; null where only unpacking would tell */
function packed(by: "xz" | "gzip", expanded: number | null, name: string): Finding {
  const inner = innerName(name) || null;
  if (expanded === null)
    return {
      says: "Packed with gzip. How large it is unpacked the format does not tell: unpack it before it is written, and look at what comes out.",
      whole: { is: "unknown", says: "A gzip file has no index: only the digest or unpacking tells" },
      expanded,
      told: TELLS_NOTHING,
      content: { kind: "packed", by, exact: false, inner },
    };
  const mib = (expanded / 1_048_576).toLocaleString("en", { maximumFractionDigits: expanded < 1_048_576 ? 3 : 1 });
  return {
    says: `Packed with ${by}; unpacked it has ${expanded.toLocaleString("en")} bytes (${mib} MiB). Unpack it before it is written.`,
    whole: {
      is: "yes",
      says:
        by === "xz"
          ? "The index leads from the end to the beginning; what is packed is not tested"
          : "It unpacks to its end, and what comes out has the checksum that stands in it",
    },
    expanded,
    told: TELLS_NOTHING,
    content: { kind: "packed", by, exact: true, inner },
  };
}
