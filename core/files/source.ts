import { FileReadError } from "./readError";

/** A file of any size that is read by ranges: a file of the browser, bytes in memory, a part of another source. */
export interface Source {
  readonly name: string;
  /** Bytes. */
  readonly size: number;
  /**
   * The bytes from `from` on; fewer than `length` where the source ends.
   *
   * @param from   offset, bytes, 0 or more
   * @param length bytes, {@link MAX_READ} at most
   */
  read(from: number, length: number): Promise<Uint8Array>;
  /** From beginning to end, faster than by ranges; sources that can't do better leave it out. */
  readonly feed?: () => Feed;
}

/**
 * Fills memory with the next bytes, to its end unless the source ends before; empty at the end.
 *
 * @returns what was filled, over the same memory, which may have been handed over on the way: use only what comes back
 */
export type Feed = (memory: Uint8Array) => Promise<Uint8Array>;

/** The most that is read into memory at once, bytes: whatever a header claims. */
export const MAX_READ = 64 * 1_048_576;

const checked = (from: number, length: number) => {
  if (!Number.isSafeInteger(from) || from < 0 || !Number.isSafeInteger(length) || length < 0)
    throw new FileReadError("damaged", "The file points to a place that can't be: it is damaged");
  if (length > MAX_READ)
    throw new FileReadError("too-large", `The file asks for ${length} bytes at once; ${MAX_READ} are read at most`);
};

/**
 * A source over bytes in memory.
 *
 * @example bytesSource("a.img", new Uint8Array(3)).size // 3
 */
export function bytesSource(name: string, bytes: Uint8Array): Source {
  return {
    name,
    size: bytes.length,
    async read(from, length) {
      checked(from, length);
      return bytes.subarray(from, from + length);
    },
  };
}

/** A feed by ranges. */
export function feedByReading(source: Source): Feed {
  let at = 0;
  return async (memory) => {
    const bytes = await source.read(at, memory.length);
    at += bytes.length;
    memory.set(bytes);
    return memory.subarray(0, bytes.length);
  };
}

/** A feed that lets the browser write into our memory, where it can: no fresh memory for each step. */
function feedOfBlob(blob: Blob): Feed | null {
  let reader: ReadableStreamBYOBReader;
  try {
    reader = blob.stream().getReader({ mode: "byob" });
  } catch {
    // This browser's streams of files do not take memory.
    return null;
  }
  return async (memory) => {
    const length = memory.length;
    let buffer = memory.buffer as ArrayBuffer;
    let filled = 0;
    while (filled < length) {
      const { done, value } = await reader.read(new Uint8Array(buffer, filled, length - filled));
      if (value) {
        buffer = value.buffer;
        filled += value.length;
      }
      if (done) break;
    }
    return new Uint8Array(buffer, 0, filled);
  };
}

/**
 * A source over a file that a person dropped: nothing is read before it is asked for.
 *
 * @example blobSource("a.img", new Blob(["abc"])).size // 3
 */
export function blobSource(name: string, blob: Blob): Source {
  return {
    name,
    size: blob.size,
    async read(from, length) {
      checked(from, length);
      return new Uint8Array(await blob.slice(from, from + length).arrayBuffer());
    },
    feed() {
      return feedOfBlob(blob) ?? feedByReading(this);
    },
  };
}

/** A part of a source, as a source of its own; what would lie beyond the end is not there. */
export function partOf(source: Source, from: number, size: number, name = source.name): Source {
  checked(from, 0);
  const whole = Math.max(0, Math.min(size, source.size - from));
  return {
    name,
    size: whole,
    async read(at, length) {
      checked(at, length);
      const here = Math.min(length, whole - at);
      return here > 0 ? source.read(from + at, here) : new Uint8Array();
    },
  };
}

/** A source that keeps the last range it read, so that a reader which walks in small steps does not ask for each. */
export function buffered(source: Source, window = 65_536): Source {
  let at = 0;
  let kept: Uint8Array = new Uint8Array();
  return {
    name: source.name,
    size: source.size,
    async read(from, length) {
      if (length > window) return source.read(from, length);
      if (from < at || from + length > at + kept.length) {
        checked(from, length);
        kept = await source.read(from, window);
        at = from;
      }
      return kept.subarray(from - at, from - at + length);
    },
  };
}

/**
 * A source that counts what is read of it.
 *
 * @example counting(bytesSource("a.img", new Uint8Array(3))).bytesRead // 0
 */
export function counting(source: Source): Source & { readonly bytesRead: number } {
  let bytesRead = 0;
  return {
    name: source.name,
    size: source.size,
    get bytesRead() {
      return bytesRead;
    },
    async read(from, length) {
      const bytes = await source.read(from, length);
      bytesRead += bytes.length;
      return bytes;
    },
  };
}

/**
 * Exactly the bytes of a range.
 *
 * @param what what the range holds, for the message
 * @throws FileReadError `cut-short` when the source ends before
 */
export async function readAll(source: Source, from: number, length: number, what: string): Promise<Uint8Array> {
  const bytes = await source.read(from, length);
  if (bytes.length < length)
    throw new FileReadError("cut-short", `The file ends inside ${what}: it was cut short (${source.size} bytes)`);
  return bytes;
}
