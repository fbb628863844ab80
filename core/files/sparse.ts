/**
 * Android sparse images: header and chunks.
 *
 * @source AOSP libsparse, `sparse_format.h`: magic 0xED26FF3A, version 1.0, 28-byte file header, 12-byte chunk header,
 *         little endian; chunk types RAW 0xCAC1, FILL 0xCAC2, DON'T CARE 0xCAC3, CRC32 0xCAC4
 */
export const SPARSE_MAGIC = 0xed26ff3a;
/** Chunk types. */
export const SPARSE_CHUNK = { raw: 0xcac1, fill: 0xcac2, skip: 0xcac3, crc: 0xcac4 } as const;
const { raw: RAW, fill: FILL, skip: SKIP, crc: CRC } = SPARSE_CHUNK;

export interface SparseImage {
  readonly blockSize: number;
  readonly blocks: number;
  /** Size when expanded, bytes. */
  readonly expanded: number;
  /** The first bytes of data, where a RAW chunk holds the first block; else empty. */
  readonly head: Uint8Array;
}

export class SparseError extends Error {}

/**
 * True when the bytes begin like a sparse image.
 *
 * @example isSparse(new Uint8Array(28)) // false
 */
export function isSparse(bytes: Uint8Array): boolean {
  return bytes.length >= 28 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === SPARSE_MAGIC;
}

/**
 * Reads a sparse image, checking every size against what is there.
 *
 * @throws SparseError when the bytes are not a whole, well-formed sparse image
 */
export function readSparse(bytes: Uint8Array): SparseImage {
  if (!isSparse(bytes)) throw new SparseError("This is not an Android sparse image");
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [major, fileHeader, chunkHeader] = [view.getUint16(4, true), view.getUint16(8, true), view.getUint16(10, true)];
  const [blockSize, blocks, chunks] = [view.getUint32(12, true), view.getUint32(16, true), view.getUint32(20, true)];
  if (major !== 1 || fileHeader < 28 || chunkHeader < 12 || blockSize === 0 || blockSize % 4 !== 0)
    throw new SparseError("The header of the sparse image is damaged");
  let at = fileHeader;
  let block = 0;
  let head: Uint8Array = new Uint8Array();
  for (let i = 0; i < chunks; i++) {
    if (at + chunkHeader > bytes.length)
      throw new SparseError(`The sparse image ends in chunk ${i + 1} of ${chunks}: it was cut short`);
    const type = view.getUint16(at, true);
    const count = view.getUint32(at + 4, true);
    const total = view.getUint32(at + 8, true);
    const data = total - chunkHeader;
    const wanted = type === RAW ? count * blockSize : type === FILL || type === CRC ? 4 : type === SKIP ? 0 : -1;
    if (wanted < 0 || data !== wanted) throw new SparseError(`Chunk ${i + 1} of the sparse image is damaged`);
    if (at + total > bytes.length)
      throw new SparseError(`The sparse image ends in chunk ${i + 1} of ${chunks}: it was cut short`);
    if (type === RAW && block === 0 && head.length === 0) head = bytes.subarray(at + chunkHeader, at + total);
    if (type !== CRC) block += count;
    at += total;
  }
  if (block !== blocks) throw new SparseError(`The sparse image has ${block} blocks, its header says ${blocks}`);
  return { blockSize, blocks, expanded: blocks * blockSize, head };
}

/**
 * Writes a sparse image with data in its first blocks and nothing behind.
 *
 * @param head data for the beginning, padded to whole blocks
 * @param expanded size when expanded, bytes, rounded up to whole blocks
 */
export function writeSparse(head: Uint8Array, expanded: number, blockSize = 4096): Uint8Array {
  const headBlocks = Math.ceil(head.length / blockSize);
  const blocks = Math.max(headBlocks, Math.ceil(expanded / blockSize));
  const rest = blocks - headBlocks;
  const chunks = rest > 0 ? 2 : 1;
  const bytes = new Uint8Array(28 + 12 + headBlocks * blockSize + (rest > 0 ? 12 : 0));
  const view = new DataView(bytes.buffer);
  view.setUint32(0, SPARSE_MAGIC, true);
  view.setUint16(4, 1, true);
  view.setUint16(8, 28, true);
  view.setUint16(10, 12, true);
  view.setUint32(12, blockSize, true);
  view.setUint32(16, blocks, true);
  view.setUint32(20, chunks, true);
  view.setUint16(28, RAW, true);
  view.setUint32(32, headBlocks, true);
  view.setUint32(36, 12 + headBlocks * blockSize, true);
  bytes.set(head, 40);
  if (rest > 0) {
    const at = 40 + headBlocks * blockSize;
    view.setUint16(at, SKIP, true);
    view.setUint32(at + 4, rest, true);
    view.setUint32(at + 8, 12, true);
  }
  return bytes;
}
