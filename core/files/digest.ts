import { createMD5, createSHA256, type IHasher } from "hash-wasm";
import { FileReadError } from "./readError";
import type { Source } from "./source";

export type Algorithm = "sha256" | "md5";

/** Bytes read and digested at a time: the memory it takes, and how often progress is told. */
const STEP = 4 * 1_048_576;

export interface DigestRequest {
  readonly algorithm: Algorithm;
  /** Also tell the digest of the first so many bytes: a tar package's MD5 covers all but its last line. */
  readonly mark?: number;
  readonly onBytes?: (done: number) => void;
  readonly signal?: { readonly aborted: boolean };
}

export interface Digested {
  /** Lower-case hexadecimal. */
  readonly digest: string;
  /** Digest of the bytes before the mark; null without one. */
  readonly marked: string | null;
}

const create: Record<Algorithm, () => Promise<IHasher>> = { sha256: createSHA256, md5: createMD5 };

/**
 * Digest of a source of any size, a few megabytes at a time.
 *
 * @throws FileReadError `cancelled` when the signal says so, `cut-short` when the source ends before its size
 * @source FIPS 180-4 (SHA-256), RFC 1321 (MD5), by way of the `hash-wasm` library
 */
export async function digestOf(source: Source, request: DigestRequest): Promise<Digested> {
  const { algorithm, mark, onBytes, signal } = request;
  const hasher = await create[algorithm]();
  hasher.init();
  let marked: string | null = null;
  for (let at = 0; at < source.size; ) {
    if (signal?.aborted) throw new FileReadError("cancelled", "Cancelled: the file was not read to its end");
    const end = mark !== undefined && mark > at ? Math.min(mark, at + STEP) : at + STEP;
    const bytes = await source.read(at, end - at);
    if (bytes.length === 0)
      throw new FileReadError("cut-short", `The file ended at ${at} of ${source.size} bytes while it was read`);
    hasher.update(bytes);
    at += bytes.length;
    if (at === mark) {
      const state = hasher.save();
      marked = hasher.digest();
      hasher.init();
      hasher.load(state);
    }
    onBytes?.(at);
  }
  return { digest: hasher.digest(), marked };
}
