import { Fields } from "../fields";
import { FileReadError } from "../readError";
import { buffered, readAll, type Source } from "../source";
import { SPARSE_CHUNK, SPARSE_MAGIC } from "../sparse";

/** The most chunks that are walked: a 16 GiB image in pieces of one block would have as many. */
const MAX_CHUNKS = 4_194_304;

/** A run of blocks: where its data lies in the sparse file, or the four bytes it is filled with, or nothing. */
interface Run {
  readonly block: number;
  readonly count: number;
  readonly at: number | null;
  readonly fill: Uint8Array | null;
}

export interface SparseMap {
  readonly blockSize: number;
  readonly blocks: number;
  readonly chunks: number;
  /** Chunks of each kind. */
  readonly raw: number;
  readonly fill: number;
  readonly skip: number;
  /** Expanded size, bytes. */
  readonly expanded: number;
  /** The image as it will stand on the partition, read by ranges out of the sparse file. */
  readonly inside: Source;
}

/**
 * Walks the chunks of a sparse image of any size; reads chunk headers only.
 *
 * @throws FileReadError when a header is damaged, the file ends early, or the blocks do not add up
 * @source AOSP libsparse, `sparse_format.h`
 */
export async function mapSparse(source: Source): Promise<SparseMap> {
  const near = buffered(source, 4096);
  const head = new Fields(await readAll(near, 0, 28, "the sparse header"), true, "the sparse header");
  if (head.u32(0) !== SPARSE_MAGIC) throw new FileReadError("not-this", "This is not an Android sparse image");
  const [fileHeader, chunkHeader, blockSize] = [head.u16(8), head.u16(10), head.u32(12)];
  const [blocks, chunks] = [head.u32(16), head.u32(20)];
  if (head.u16(4) !== 1 || fileHeader < 28 || chunkHeader < 12 || blockSize < 4 || blockSize % 4 !== 0)
    throw new FileReadError("damaged", "The header of the sparse image is damaged");
  if (chunks > MAX_CHUNKS) throw new FileReadError("damaged", `${chunks} chunks: no real sparse image has as many`);
  const runs: Run[] = [];
  const count = { raw: 0, fill: 0, skip: 0 };
  let at = fileHeader;
  let block = 0;
  for (let i = 0; i < chunks; i++) {
    const where = `chunk ${i + 1} of ${chunks}`;
    const chunk = new Fields(await readAll(near, at, chunkHeader, where), true, where);
    const [type, many, total] = [chunk.u16(0), chunk.u32(4), chunk.u32(8)];
    const data = at + chunkHeader;
    const kind = type === SPARSE_CHUNK.raw ? "raw" : type === SPARSE_CHUNK.fill ? "fill" : "skip";
    const wanted =
      kind === "raw"
        ? many * blockSize
        : kind === "fill" || type === SPARSE_CHUNK.crc
          ? 4
          : type === SPARSE_CHUNK.skip
            ? 0
            : -1;
    if (wanted < 0 || total - chunkHeader !== wanted)
      throw new FileReadError("damaged", `${where} of the sparse image is damaged`);
    if (data + wanted > source.size)
      throw new FileReadError(
        "cut-short",
        `The sparse image ends in ${where}: it was cut short, at least ${data + wanted - source.size} bytes are missing`,
      );
    if (type !== SPARSE_CHUNK.crc) {
      count[kind]++;
      if (kind !== "skip")
        runs.push({
          block,
          count: many,
          at: kind === "raw" ? data : null,
          fill: kind === "fill" ? await readAll(near, data, 4, where) : null,
        });
      block += many;
    }
    at = data + wanted;
  }
  if (block !== blocks)
    throw new FileReadError("damaged", `The sparse image has ${block} blocks, its header says ${blocks}`);
  const expanded = blocks * blockSize;
  if (!Number.isSafeInteger(expanded)) throw new FileReadError("damaged", "The sparse image says an impossible size");
  return { blockSize, blocks, chunks, ...count, expanded, inside: unfold(source, runs, blockSize, expanded) };
}

/** Ranges of the expanded image, put together from the runs that touch them. */
function unfold(source: Source, runs: readonly Run[], blockSize: number, size: number): Source {
  const firstAfter = (block: number) => {
    let [low, high] = [0, runs.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (runs[middle].block + runs[middle].count <= block) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  return {
    name: source.name,
    size,
    async read(from, length) {
      const out = new Uint8Array(Math.max(0, Math.min(length, size - from)));
      const end = from + out.length;
      for (let i = firstAfter(Math.floor(from / blockSize)); i < runs.length; i++) {
        const run = runs[i];
        const [begin, stop] = [run.block * blockSize, (run.block + run.count) * blockSize];
        if (begin >= end) break;
        const [a, b] = [Math.max(begin, from), Math.min(stop, end)];
        if (a >= b) continue;
        if (run.at !== null) out.set(await source.read(run.at + (a - begin), b - a), a - from);
        else for (let n = a; n < b; n++) out[n - from] = (run.fill as Uint8Array)[(n - begin) % 4];
      }
      return out;
    },
  };
}
