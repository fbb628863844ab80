import path from "node:path";
import { Worker } from "node:worker_threads";
import { log } from "~/app/server/http/log";
import type { Store } from "~/store/database";
import type { DraftState, Drafts } from "~/store/drafts";

/** Waits before looking whether somebody stopped it. */
const LOOK_MS = 400;

/** Work in a thread of its own whose best so far is written down as it is found. */
export interface Beside<Doc, Word> {
  readonly store: Store;
  readonly drafts: Drafts;
  readonly version: number;
  /** The bundle of the thread, by its name (scripts/build.mjs). */
  readonly worker: string;
  readonly data: unknown;
  readonly first: Doc;
  /** What a word of the thread makes of what is written down. */
  readonly take: (doc: Doc, word: Word) => { readonly doc: Doc; readonly done: boolean };
  /** What is written down where the thread breaks off. */
  readonly broken: (doc: Doc) => Doc;
}

/** Begins it. It ends by itself, or when somebody stops it or begins it anew, in whatever process that is. */
export function workBeside<Doc, Word>(work: Beside<Doc, Word>): void {
  const { store, drafts, version, take, broken } = work;
  const worker = new Worker(path.resolve("build/workers", work.worker), {
    workerData: work.data,
    resourceLimits: { maxOldGenerationSizeMb: 768 },
  });
  let doc = work.first;
  let ended = false;
  const stop = () => {
    ended = true;
    clearInterval(look);
    worker.terminate().catch((error) => log.error(error, "a thread did not end"));
  };
  const write = (state: DraftState) => {
    if (!drafts.write(store, state, JSON.stringify(doc), version) || state !== "running") stop();
  };
  const look = setInterval(() => {
    const row = drafts.read(store);
    if (row?.version !== version || row.state !== "running") stop();
  }, LOOK_MS);
  worker.on("message", (word: Word) => {
    if (ended) return;
    const taken = take(doc, word);
    doc = taken.doc;
    write(taken.done ? "done" : "running");
  });
  const breakOff = () => {
    if (ended) return;
    doc = broken(doc);
    write("failed");
  };
  worker.on("error", (error) => {
    log.error(error, "a thread failed");
    breakOff();
  });
  worker.on("exit", breakOff);
  worker.unref();
}
