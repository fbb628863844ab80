import { type FileEntry, Reader, Uint8ArrayWriter, ZipReader } from "@zip.js/zip.js";
import { Fields } from "../fields";
import { FileReadError } from "../readError";
import { partOf, readAll, type Source } from "../source";

/** Packages with more entries are not looked through: real ones have some thousands. */
export const MAX_ENTRIES = 100_000;

/** One file inside a zip. */
export interface ZipEntry {
  readonly name: string;
  /** Bytes in the zip and unpacked, as the directory says. */
  readonly packed: number;
  readonly size: number;
  /** Kept as it is: can be read by ranges. */
  readonly stored: boolean;
  /** The unpacked bytes; refused where there would be more than `limit`, whatever the directory says. */
  readonly bytes: (limit: number) => Promise<Uint8Array>;
  /** A stored entry as a source of its own, nothing unpacked. */
  readonly source: () => Promise<Source>;
  /** Reads the whole entry and compares it with its checksum. */
  readonly isWhole: (onBytes: (bytes: number) => void, signal?: AbortSignal) => Promise<boolean>;
}

/** A zip reader that asks the source for ranges. */
class SourceReader extends Reader<Source> {
  constructor(private readonly source: Source) {
    super(source);
    this.size = source.size;
  }

  override readUint8Array(index: number, length: number) {
    return this.source.read(index, Math.max(0, Math.min(length, this.source.size - index)));
  }
}

/** Stops unpacking as soon as there is more than was allowed. */
class LimitedWriter extends Uint8ArrayWriter {
  private written = 0;
  constructor(private readonly limit: number) {
    super();
  }

  override async writeUint8Array(bytes: Uint8Array) {
    this.written += bytes.length;
    if (this.written > this.limit)
      throw new FileReadError("too-large", `A file in the package unpacks to more than ${this.limit} bytes`);
    await super.writeUint8Array(bytes);
  }
}

const failure = (error: unknown): FileReadError =>
  error instanceof FileReadError
    ? error
    : new FileReadError("damaged", `The zip is damaged or was cut short (${(error as Error).message})`);

/**
 * The directory of a zip or zip64 of any size; only its end is read.
 *
 * @throws FileReadError when there is no directory, or it is damaged
 * @source zip and zip64: APPNOTE.TXT, by way of the `@zip.js/zip.js` library
 */
export async function openZip(source: Source): Promise<readonly ZipEntry[]> {
  const entries: ZipEntry[] = [];
  try {
    const zip = new ZipReader(new SourceReader(source), { useWebWorkers: false });
    for await (const entry of zip.getEntriesGenerator()) {
      if (entries.length >= MAX_ENTRIES)
        throw new FileReadError("too-large", `The zip names more than ${MAX_ENTRIES} files`);
      if (!entry.directory) entries.push(entryOf(source, entry as FileEntry));
    }
  } catch (error) {
    throw failure(error);
  }
  return entries;
}

function entryOf(source: Source, entry: FileEntry): ZipEntry {
  const stored = entry.compressionMethod === 0 && !entry.encrypted;
  return {
    name: entry.filename,
    packed: entry.compressedSize,
    size: entry.uncompressedSize,
    stored,
    async bytes(limit) {
      if (entry.uncompressedSize > limit)
        throw new FileReadError("too-large", `${entry.filename} unpacks to ${entry.uncompressedSize} bytes`);
      try {
        return await entry.getData(new LimitedWriter(limit), { useWebWorkers: false, checkSignature: true });
      } catch (error) {
        throw failure(error);
      }
    },
    async source() {
      if (!stored) throw new FileReadError("not-supported", `${entry.filename} is packed inside the zip`);
      const what = "a local header of the zip";
      const local = new Fields(await readAll(source, entry.offset, 30, what), true, what);
      if (local.u32(0) !== 0x04034b50) throw new FileReadError("damaged", "The zip's directory points nowhere");
      const at = entry.offset + 30 + local.u16(26) + local.u16(28);
      return partOf(source, at, entry.compressedSize, entry.filename);
    },
    async isWhole(onBytes, signal) {
      try {
        await entry.getData(new WritableStream({ write: (chunk: Uint8Array) => onBytes(chunk.length) }), {
          useWebWorkers: false,
          checkSignature: true,
          signal,
        });
        return true;
      } catch (error) {
        if (signal?.aborted) throw new FileReadError("cancelled", "Cancelled");
        return error instanceof FileReadError && error.problem === "too-large";
      }
    },
  };
}

/** The first entry with this name, or whose name fits. */
export function entryNamed(entries: readonly ZipEntry[], name: string | RegExp): ZipEntry | undefined {
  return entries.find((e) => (typeof name === "string" ? e.name === name : name.test(e.name)));
}

const MAX_TEXT = 4 * 1_048_576;

/** A text file of the zip; null when it is not there. */
export async function textOf(entries: readonly ZipEntry[], name: string | RegExp): Promise<string | null> {
  const entry = entryNamed(entries, name);
  return entry ? new TextDecoder().decode(await entry.bytes(MAX_TEXT)) : null;
}
