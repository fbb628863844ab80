import { Fields, hex } from "../fields";
import { FileReadError } from "../readError";
import { readAll, type Source } from "../source";

const MAGIC = 0xe0f5e1e2;
const SUPERBLOCK = 1024;
const MAX_FILE = 4 * 1_048_576;
/** How a file in chunks is described: chunk size against the block's (a power of two), and whether its chunks are indexed by 8 bytes. */
const CHUNK_BITS = 0x1f;
const CHUNK_INDEXES = 0x20;
const HOLE = 0xffffffff;

export interface Erofs {
  readonly label: string;
  readonly uuid: string;
  /** Size of the file system, bytes. */
  readonly bytes: number;
  /** Files in it may be packed; those are not read here. */
  readonly packed: boolean;
  /** The bytes of a file by its path from the root; null when there is none, or it is packed. */
  readonly file: (path: readonly string[]) => Promise<Uint8Array | null>;
}

/** True when the source holds an EROFS superblock. */
export async function isErofs(source: Source): Promise<boolean> {
  const magic = await source.read(SUPERBLOCK, 4);
  return magic.length === 4 && new DataView(magic.buffer, magic.byteOffset).getUint32(0, true) === MAGIC;
}

interface Node {
  readonly layout: number;
  readonly size: number;
  /** First block of the data. */
  readonly block: number;
  /** Where the inode ends and data kept beside it begins. */
  readonly tail: number;
}

/**
 * Opens an EROFS image: its superblock, and a way to read small files that are kept plain.
 *
 * @source Linux kernel documentation, "EROFS": superblock, compact and extended inodes, flat plain, flat inline and
 *         chunk-based layouts, directory blocks
 */
export async function openErofs(source: Source): Promise<Erofs> {
  const s = new Fields(await readAll(source, SUPERBLOCK, 128, "the EROFS superblock"), true, "the EROFS superblock");
  if (s.u32(0) !== MAGIC) throw new FileReadError("not-this", "This is not an EROFS image");
  const bits = s.u8(12);
  if (bits < 9 || bits > 16)
    throw new FileReadError("damaged", "The EROFS superblock is damaged: impossible block size");
  const blockSize = 1 << bits;
  const root = s.u16(14);
  const metaBlock = s.u32(40);
  const bytes = s.u32(36) * blockSize;

  async function node(id: number): Promise<Node> {
    const at = metaBlock * blockSize + id * 32;
    const head = new Fields(await readAll(source, at, 32, "an inode"), true, "an inode");
    const format = head.u16(0);
    const extended = (format & 1) === 1;
    const size = extended ? head.u64(8) : head.u32(8);
    const attributes = head.u16(2);
    // Extended attributes stand between the inode and data kept beside it: 12 bytes, then 4 for each further unit.
    const attributeBytes = attributes === 0 ? 0 : 12 + (attributes - 1) * 4;
    return {
      layout: (format >> 1) & 7,
      size,
      block: head.u32(16),
      tail: at + (extended ? 64 : 32) + attributeBytes,
    };
  }

  async function content({ layout, size, block, tail }: Node): Promise<Uint8Array | null> {
    if (size > MAX_FILE) return null;
    if (layout === 4) return chunks(size, block, tail);
    if (layout === 0) return readAll(source, block * blockSize, size, "a file of the image");
    if (layout !== 2) return null;
    const beside = size % blockSize;
    const out = new Uint8Array(size);
    if (size > beside) out.set(await readAll(source, block * blockSize, size - beside, "a file of the image"));
    if (beside) out.set(await readAll(source, tail, beside, "a file of the image"), size - beside);
    return out;
  }

  /** A file kept in chunks of one size; null where one lies on another device. */
  async function chunks(size: number, info: number, tail: number): Promise<Uint8Array | null> {
    const indexed = (info & CHUNK_INDEXES) !== 0;
    const chunk = blockSize * 2 ** (info & CHUNK_BITS);
    const unit = indexed ? 8 : 4;
    const count = Math.ceil(size / chunk);
    const at = Math.ceil(tail / unit) * unit;
    const map = new Fields(
      await readAll(source, at, count * unit, "the chunks of a file"),
      true,
      "the chunks of a file",
    );
    const out = new Uint8Array(size);
    for (let i = 0; i < count; i++) {
      if (indexed && map.u16(i * unit + 2) !== 0) return null;
      const from = map.u32(i * unit + unit - 4);
      // What was never written is zeros.
      if (from === HOLE) continue;
      const length = Math.min(chunk, size - i * chunk);
      out.set(await readAll(source, from * blockSize, length, "a file of the image"), i * chunk);
    }
    return out;
  }

  function find(folder: Uint8Array, name: string): number | null {
    for (let at = 0; at < folder.length; at += blockSize) {
      const block = new Fields(folder.subarray(at, at + blockSize), true, "a folder");
      const count = block.u16(8) / 12;
      for (let i = 0; i < count; i++) {
        const from = block.u16(i * 12 + 8);
        const to = i + 1 < count ? block.u16((i + 1) * 12 + 8) : block.length;
        if (to >= from && block.text(from, to - from) === name) return block.u64(i * 12);
      }
    }
    return null;
  }

  return {
    label: s.text(64, 16),
    uuid: hex(s.part(48, 16)),
    bytes,
    packed: (s.u32(80) & 1) === 1 || s.u16(84) !== 0,
    async file(path) {
      let here = await node(root);
      for (const name of path) {
        const folder = await content(here);
        const id = folder && find(folder, name);
        if (id === null) return null;
        here = await node(id);
      }
      return content(here);
    },
  };
}
