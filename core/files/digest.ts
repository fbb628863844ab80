import { createMD5, createSHA256, createSHA512 } from "hash-wasm";
import { FileReadError } from "./readError";
import { feedByReading, type Source } from "./source";

/** Bytes read and digested at a time: the memory it takes, and how often progress is told. */
const STEP = 4 * 1_048_576;
/** Pieces of memory that go round: one is read into while the others wait for the other digest. */
const AHEAD = 3;

/** Where a digest is made, step by step. */
export interface DigestMaker {
  /** Takes the bytes over; gives their memory back when it is done with them. */
  update(bytes: Uint8Array): Uint8Array | Promise<Uint8Array>;
  /** Lower-case hexadecimal; the maker is done with then. */
  digest(): string | Promise<string>;
}

/**
 * SHA-256 made here.
 *
 * @source FIPS 180-4, by way of the `hash-wasm` library
 * @example (await sha256Maker()).digest() // "e3b0c442…"
 */
export async function sha256Maker(): Promise<DigestMaker> {
  const hasher = await createSHA256();
  hasher.init();
  return {
    update(bytes) {
      hasher.update(bytes);
      return bytes;
    },
    digest: () => hasher.digest(),
  };
}

export interface DigestRequest {
  /** Also tell the MD5 of the first so many bytes: a tar package's own covers all but its last line. */
  readonly mark?: number;
  /** Also make SHA-512: a list holds one. */
  readonly sha512?: boolean;
  readonly onBytes?: (done: number) => void;
  readonly signal?: { readonly aborted: boolean };
  /** Where SHA-256 is made: here, or in another thread that runs beside. */
  readonly sha256?: DigestMaker;
}

export interface FileDigests {
  readonly sha256: string;
  readonly md5: string;
  /** Null where it was not asked for. */
  readonly sha512: string | null;
  /** MD5 of the bytes before the mark; null without one. */
  readonly marked: string | null;
}

/**
 * SHA-256, MD5 and where it is asked for SHA-512 of a source of any size, read once, a few megabytes at a time.
 *
 * @throws FileReadError `cancelled` when the signal says so, `cut-short` when the source ends before its size
 * @source FIPS 180-4 (SHA-256, SHA-512), RFC 1321 (MD5), by way of the `hash-wasm` library
 * @example (await digestsOf(bytesSource("a.img", new Uint8Array()))).md5 // "d41d8cd9…"
 */
export async function digestsOf(source: Source, request: DigestRequest = {}): Promise<FileDigests> {
  const { mark, onBytes, signal } = request;
  const sha = request.sha256 ?? (await sha256Maker());
  const md5 = await createMD5();
  md5.init();
  const long = request.sha512 ? await createSHA512() : null;
  long?.init();
  let marked: string | null = null;
  const step = (at: number) => (mark !== undefined && mark > at ? Math.min(mark - at, STEP) : STEP);
  const feed = source.feed?.() ?? feedByReading(source);
  // The same few pieces of memory go round: gigabytes of fresh ones would wait for the collector.
  const free = Array.from({ length: AHEAD }, () => new Uint8Array(STEP));
  const waiting: (Uint8Array | Promise<Uint8Array>)[] = [];
  for (let at = 0; at < source.size; ) {
    const memory = free.pop() ?? whole(await (waiting.shift() as Promise<Uint8Array>));
    const bytes = await feed(memory.subarray(0, step(at)));
    if (signal?.aborted) throw new FileReadError("cancelled", "Cancelled: the file was not read to its end");
    if (bytes.length === 0)
      throw new FileReadError("cut-short", `The file ended at ${at} of ${source.size} bytes while it was read`);
    at += bytes.length;
    md5.update(bytes);
    long?.update(bytes);
    if (at === mark) {
      const state = md5.save();
      marked = md5.digest();
      md5.init();
      md5.load(state);
    }
    waiting.push(sha.update(bytes));
    onBytes?.(at);
  }
  await Promise.all(waiting);
  return { sha256: await sha.digest(), md5: md5.digest(), sha512: long?.digest() ?? null, marked };
}

/** All of a piece of memory, of which only the beginning was filled. */
const whole = (bytes: Uint8Array) => new Uint8Array(bytes.buffer);
