import { Fields, hex } from "../fields";
import { FileReadError } from "../readError";
import { readAll, type Source } from "../source";

const MAGIC = 0xef53;
const SUPERBLOCK = 1024;
const ROOT = 2;
const EXTENTS = 0x80000;
const INLINE = 0x10000000;
/** A folder or a small text file; larger ones are not read. */
const MAX_FILE = 4 * 1_048_576;

export interface Ext4 {
  readonly label: string;
  readonly uuid: string;
  readonly blockSize: number;
  /** Size of the file system, bytes. */
  readonly bytes: number;
  readonly usedBytes: number;
  /** The bytes of a file by its path from the root; null when there is none, or it can't be read cheaply. */
  readonly file: (path: readonly string[]) => Promise<Uint8Array | null>;
}

/** True when the source holds an ext2/3/4 superblock. */
export async function isExt4(source: Source): Promise<boolean> {
  const magic = await source.read(SUPERBLOCK + 0x38, 2);
  return magic.length === 2 && (magic[0] | (magic[1] << 8)) === MAGIC;
}

/**
 * Opens an ext4 image: its superblock, and a way to read small files out of it.
 *
 * @source Linux kernel documentation, "ext4 Data Structures and Algorithms": super block, group descriptors, inodes,
 *         extent tree, linear directories
 */
export async function openExt4(source: Source): Promise<Ext4> {
  const s = new Fields(await readAll(source, SUPERBLOCK, 1024, "the ext4 superblock"), true, "the ext4 superblock");
  if (s.u16(0x38) !== MAGIC) throw new FileReadError("not-this", "This is not an ext4 image");
  const logBlock = s.u32(0x18);
  if (logBlock > 6) throw new FileReadError("damaged", "The ext4 superblock is damaged: impossible block size");
  const blockSize = 1024 << logBlock;
  const wide = (s.u32(0x60) & 0x80) !== 0;
  const total = (at: number, high: number) => s.u32(at) + (wide ? s.u32(high) * 2 ** 32 : 0);
  const [blocks, free] = [total(0x4, 0x150), total(0xc, 0x158)];
  const bytes = blocks * blockSize;
  if (!Number.isSafeInteger(bytes) || blocks === 0)
    throw new FileReadError("damaged", "The ext4 superblock is damaged: impossible number of blocks");
  const inodesPerGroup = s.u32(0x28);
  const inodeSize = s.u32(0x4c) === 0 ? 128 : s.u16(0x58);
  const descriptorSize = wide ? Math.max(32, s.u16(0xfe)) : 32;
  if (inodesPerGroup === 0 || inodeSize < 128 || inodeSize > blockSize)
    throw new FileReadError("damaged", "The ext4 superblock is damaged: impossible inode size");
  const firstBlock = s.u32(0x14);

  async function inode(number: number): Promise<Fields> {
    const group = Math.floor((number - 1) / inodesPerGroup);
    const at = (firstBlock + 1) * blockSize + group * descriptorSize;
    const d = new Fields(await readAll(source, at, descriptorSize, "a group descriptor"), true, "a group descriptor");
    const table = d.u32(8) + (wide && descriptorSize >= 64 ? d.u32(0x28) * 2 ** 32 : 0);
    const place = table * blockSize + ((number - 1) % inodesPerGroup) * inodeSize;
    return new Fields(await readAll(source, place, inodeSize, "an inode"), true, "an inode");
  }

  /** The content of a file or folder; null where it is too large or kept in a way that is not read here. */
  async function content(node: Fields): Promise<Uint8Array | null> {
    const size = node.u32(4);
    const flags = node.u32(0x20);
    if (size > MAX_FILE || node.u32(0x6c) !== 0) return null;
    if (flags & INLINE) return size <= 60 ? node.part(0x28, size) : null;
    if (!(flags & EXTENTS)) return null;
    const out = new Uint8Array(size);
    await fill(new Fields(node.part(0x28, 60), true, "an extent tree"), out, 5);
    return out;
  }

  async function fill(tree: Fields, out: Uint8Array, deepest: number): Promise<void> {
    if (tree.u16(0) !== 0xf30a) throw new FileReadError("damaged", "The extent tree of a file is damaged");
    const [entries, depth] = [tree.u16(2), tree.u16(6)];
    if (depth > deepest) throw new FileReadError("damaged", "The extent tree of a file is damaged: too deep");
    for (let i = 0; i < entries; i++) {
      const at = 12 + i * 12;
      if (depth > 0) {
        const block = tree.u32(at + 4) + tree.u16(at + 8) * 2 ** 32;
        const child = await readAll(source, block * blockSize, blockSize, "an extent tree");
        await fill(new Fields(child, true, "an extent tree"), out, depth - 1);
        continue;
      }
      const to = tree.u32(at) * blockSize;
      const length = tree.u16(at + 4);
      // More than 32768 stands for blocks that are set aside and not written yet.
      if (length > 32_768 || to >= out.length) continue;
      const from = (tree.u32(at + 8) + tree.u16(at + 6) * 2 ** 32) * blockSize;
      const many = Math.min(length * blockSize, out.length - to);
      out.set(await readAll(source, from, many, "a file of the image"), to);
    }
  }

  function find(folder: Uint8Array, name: string): number | null {
    const f = new Fields(folder, true, "a folder");
    for (let at = 0; at + 8 <= folder.length; ) {
      const [number, length, nameLength] = [f.u32(at), f.u16(at + 4), f.u8(at + 6)];
      if (length < 8) return null;
      if (number !== 0 && nameLength === name.length && f.text(at + 8, nameLength) === name) return number;
      at += length;
    }
    return null;
  }

  return {
    label: s.text(0x78, 16),
    uuid: hex(s.part(0x68, 16)),
    blockSize,
    bytes,
    usedBytes: Math.max(0, blocks - free) * blockSize,
    async file(path) {
      let node = await inode(ROOT);
      for (const name of path) {
        const folder = await content(node);
        const number = folder && find(folder, name);
        if (!number) return null;
        node = await inode(number);
      }
      return content(node);
    },
  };
}
