import { expose, type Remote, transfer, wrap } from "comlink";
import { type DigestMaker, digestsOf, type FileDigests, sha256Maker } from "~/core/files/digest";
import { takePartition } from "~/core/files/formats/payload";
import { FileReadError } from "~/core/files/readError";
import { openPayload, recognise } from "~/core/files/recognise";
import type { FileReport } from "~/core/files/report";
import { blobSource } from "~/core/files/source";
import type { DigestBench } from "./sha256";

/** Progress is told at most this often, milliseconds: more would only keep the page busy. */
const TELL_EVERY = 200;

/** A refusal that crosses to the page as data: an error would lose its kind on the way. */
export type Answer<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly problem: string; readonly says: string };

async function answer<T>(work: () => Promise<T>): Promise<Answer<T>> {
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    if (error instanceof FileReadError) return { ok: false, problem: error.problem, says: error.message };
    // The browser's own: a file that was moved, deleted or changed while it was read.
    return {
      ok: false,
      problem: "gone",
      says: `The file can't be read (${(error as Error).message}). Was it moved or changed meanwhile? Drop it again`,
    };
  }
}

const cancelled = new Set<number>();
/** The thread that makes SHA-256 beside this one. */
let beside: Remote<DigestBench> | null = null;

/** SHA-256 made by the other thread: each step's bytes are handed over, not copied. */
async function shaBeside(): Promise<DigestMaker> {
  const bench = beside;
  if (!bench) return sha256Maker();
  await bench.begin();
  return {
    update: (bytes) => bench.update(transfer(bytes, [bytes.buffer as ArrayBuffer])),
    digest: () => bench.digest(),
  };
}

const bench = {
  connect(port: MessagePort) {
    beside = wrap<DigestBench>(port);
  },

  recognise: (file: File): Promise<Answer<FileReport>> => answer(() => recognise(blobSource(file.name, file))),

  digests(
    id: number,
    file: File,
    mark: number | undefined,
    sha512: boolean,
    onBytes: (done: number) => void,
  ): Promise<Answer<FileDigests>> {
    let told = 0;
    const signal = {
      get aborted() {
        return cancelled.has(id);
      },
    };
    return answer(async () =>
      digestsOf(blobSource(file.name, file), {
        mark,
        sha512,
        signal,
        sha256: await shaBeside(),
        onBytes(done) {
          const time = performance.now();
          if (time - told < TELL_EVERY && done < file.size) return;
          told = time;
          onBytes(done);
        },
      }),
    );
  },

  cancel(id: number) {
    cancelled.add(id);
  },

  take: (file: File, partition: string): Promise<Answer<Uint8Array>> =>
    answer(async () => {
      const opened = await openPayload(blobSource(file.name, file));
      if (!opened) throw new FileReadError("not-this", "There is no payload in this file any more");
      const bytes = await takePartition(opened.source, opened.payload, partition);
      return transfer(bytes, [bytes.buffer as ArrayBuffer]);
    }),
};

export type FileBench = typeof bench;

expose(bench);
