import bzip2 from "unbzip2-stream/lib/bzip2.js";
import * as xz from "xz-decompress";
import { FileReadError } from "../readError";

type Streams = { readonly XzReadableStream: new (packed: ReadableStream<Uint8Array>) => ReadableStream<Uint8Array> };
// The package is CommonJS: Node's own loader hands its exports over as the default one.
const { XzReadableStream } = ("XzReadableStream" in xz ? xz : (xz as { default: Streams }).default) as Streams;

/**
 * Unpacks xz data; stops as soon as there is more than `room`.
 *
 * @throws FileReadError when the data is damaged or unpacks to more
 */
export async function unpackXz(data: Uint8Array, room: number): Promise<Uint8Array> {
  const out = new Uint8Array(room);
  let length = 0;
  const reader = new XzReadableStream(new Blob([data as Uint8Array<ArrayBuffer>]).stream()).getReader();
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return out.subarray(0, length);
      if (length + value.length > room) throw new FileReadError("damaged", "Packed data unpacks to more than it may");
      out.set(value, length);
      length += value.length;
    }
  } catch (error) {
    await reader.cancel().catch(() => {});
    if (error instanceof FileReadError) throw error;
    throw new FileReadError("damaged", `Packed data (xz) is damaged: ${(error as Error).message}`);
  }
}

/**
 * Unpacks bzip2 data; stops as soon as there is more than `room`.
 *
 * @throws FileReadError when the data is damaged or unpacks to more
 */
export function unpackBzip2(data: Uint8Array, room: number): Uint8Array {
  const out = new Uint8Array(room);
  let length = 0;
  try {
    const bits = bzip2.array(data);
    const size = 100_000 * bzip2.header(bits);
    const block = new Int32Array(size);
    let crc: number | null = 0;
    while (crc !== null)
      crc = bzip2.decompress(
        bits,
        (byte) => {
          if (length >= room) throw new FileReadError("damaged", "Packed data unpacks to more than it may");
          out[length++] = byte;
        },
        block,
        size,
        crc,
      );
  } catch (error) {
    if (error instanceof FileReadError) throw error;
    throw new FileReadError("damaged", `Packed data (bzip2) is damaged: ${(error as Error).message}`);
  }
  return out.subarray(0, length);
}
