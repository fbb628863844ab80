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
  let first = true;
  while (end > 0) {
    const pad = new Fields(await readAll(source, Math.max(0, end - 4), Math.min(4, end), "the xz file"), true, "xz");
    if (pad.length === 4 && pad.u32(0) === 0 && !first) {
      end -= 4;
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
    first = false;
  }
  return total;
}

/** Name of the file inside: that of the packed file without its ending. */
const innerName = (name: string) => name.replace(/\.(xz|gz|tgz)$/i, (e) => (e.toLowerCase() === ".tgz" ? ".tar" : ""));

/** Tells an xz image. */
export async function readXz(source: Source): Promise<Finding> {
  const expanded = await xzSize(source);
  return packed("xz", expanded, source.name, true);
}

/**
 * Tells a gzip image: its last four bytes hold the unpacked size modulo 2^32, nothing more.
 *
 * @source RFC 1952, section 2.3.1, ISIZE
 */
export async function readGzip(source: Source): Promise<Finding> {
  if (source.size < 18) throw new FileReadError("cut-short", "The gzip file has no whole member: it was cut short");
  const tail = new Fields(await readAll(source, source.size - 4, 4, "the end of the gzip file"), true, "gzip");
  return packed("gzip", tail.u32(0), source.name, false);
}

function packed(by: "xz" | "gzip", expanded: number, name: string, exact: boolean): Finding {
  const mib = (expanded / 1_048_576).toLocaleString("en", { maximumFractionDigits: expanded < 1_048_576 ? 3 : 1 });
  return {
    says: exact
      ? `Packed with xz; unpacked it has ${expanded.toLocaleString("en")} bytes (${mib} MiB). Unpack it before it is written.`
      : `Packed with gzip; unpacked it has ${expanded.toLocaleString("en")} bytes (${mib} MiB), or that many and a multiple of 4 GiB: the format can't tell. Unpack it before it is written.`,
    whole: exact
      ? { is: "yes", says: "The index leads from the end to the beginning; what is packed is not tested" }
      : { is: "unknown", says: "A gzip file has no index: only the digest or unpacking tells" },
    expanded,
    told: TELLS_NOTHING,
    content: { kind: "packed", by, exact, inner: innerName(name) || null },
  };
}
