import path from "node:path";
import { Worker } from "node:worker_threads";
import { now } from "~/app/server/http/clock";
import { log } from "~/app/server/http/log";
import { readRevisions } from "~/store/catalogue";
import type { Store } from "~/store/database";
import type { DraftRow, DraftState, Drafts } from "~/store/drafts";

/** Waits before looking whether somebody stopped it. */
const LOOK_MS = 400;

/** No work takes longer: what still runs then lost its thread with the process that had it. */
const LOST_SECONDS = 120;

/** What such work rests on: everything written about devices, groups, volunteers, catalogue and policy. */
export const restsNow = (store: Store): string => JSON.stringify(Object.values(readRevisions(store)));

/** What is written down of it, as pages read it. */
export type Standing<Doc> = Doc &
  Omit<DraftRow, "doc"> & {
    /** Something was written since that bears on it. */
    readonly stale: boolean;
  };

/** What was written down, without what its row says of it. */
export function docOf<Doc extends object>({
  state: _,
  version: __,
  at: ___,
  by: ____,
  stale: _____,
  ...doc
}: Standing<Doc>) {
  return doc;
}

/** What stands; work that nobody does any more is told as broken off. Null when there is none. */
export function standingWork<Doc extends { readonly rests: string }>(
  store: Store,
  drafts: Drafts,
): Standing<Doc> | null {
  const row = drafts.read(store);
  if (!row) return null;
  const { doc, ...rest } = row;
  const kept = JSON.parse(doc) as Doc;
  const seconds = Math.abs(now(store).getTime() - Date.parse(row.at)) / 1000;
  const lost = row.state === "running" && seconds > LOST_SECONDS;
  return { ...kept, ...rest, state: lost ? "failed" : row.state, stale: kept.rests !== restsNow(store) };
}

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
  look.unref();
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
