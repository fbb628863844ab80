import path from "node:path";
import { Worker } from "node:worker_threads";
import { log } from "~/app/server/http/log";
import type { Division } from "~/core/allocate/divide";
import type { Placed, Question } from "~/core/allocate/question";
import type { WhatIf } from "~/core/allocate/whatIf";
import { readRevisions } from "~/store/catalogue";
import type { Hand, Store } from "~/store/database";
import { beginDraft, type DraftState, readDraft, writeDraft } from "~/store/divisions";
import type { DivisionWord, DivisionWork } from "./divisionWorker";
import { type Asked, divisionQuestion } from "./question";

/** Bundled by scripts/build.mjs; commands run in the project's root. */
const DIVISION_WORKER = path.resolve("build/workers/divisionWorker.mjs");
/** As long as anybody wants to look at something that only gets a little better. */
const SEARCH_MS = 8000;
const WHAT_IF_MS = 1500;
/** Waits before looking whether somebody stopped it. */
const LOOK_MS = 400;

/** A division as it is looked at: what was asked, and the best so far. */
export interface Draft {
  readonly asked: Asked;
  readonly division: Division | null;
  readonly whatIf: readonly WhatIf[];
  /** What the last move by hand cost or gained, in words; null where nobody moved anything. */
  readonly moved: string | null;
  /** The state of the lane it rests on. */
  readonly rests: string;
  readonly says: string;
}
export interface StandingDraft extends Draft {
  readonly state: DraftState;
  readonly version: number;
  readonly at: string;
  readonly by: string;
  /** Something was written since that bears on it. */
  readonly stale: boolean;
}

/** What a division rests on: everything written about devices, groups, volunteers, catalogue and policy. */
export const restsNow = (store: Store): string => JSON.stringify(Object.values(readRevisions(store)));

/** The draft that stands; null when there is none. */
export function standingDraft(store: Store): StandingDraft | null {
  const row = readDraft(store);
  if (!row) return null;
  const draft = JSON.parse(row.doc) as Draft;
  const { state, version, at, by } = row;
  return { ...draft, state, version, at, by, stale: draft.rests !== restsNow(store) };
}

/** Begins to work a division out, beside the pages. @returns what is wrong in words, or null */
export function startDivision(store: Store, hand: Hand): string | null {
  const asked = divisionQuestion(store, new Date(hand.at));
  if (asked.question.groups.length === 0) return "No group waits. Write down who waits for what first";
  if (asked.question.candidates.length === 0)
    return "No device could go to any of the groups yet: look at Match what stops them";
  const first: Draft = { asked, division: null, whatIf: [], moved: null, rests: restsNow(store), says: "" };
  const version = beginDraft(store, "running", JSON.stringify(first), hand);
  workOut(store, asked.question, first, version);
  return null;
}

function workOut(store: Store, question: Question, first: Draft, version: number): void {
  const workerData: DivisionWork = { question, milliseconds: SEARCH_MS, millisecondsEach: WHAT_IF_MS };
  const worker = new Worker(DIVISION_WORKER, { workerData, resourceLimits: { maxOldGenerationSizeMb: 768 } });
  let draft = first;
  let ended = false;
  const write = (state: DraftState, next: Partial<Draft>) => {
    draft = { ...draft, ...next };
    if (!writeDraft(store, state, JSON.stringify(draft), version)) stop();
  };
  const look = setInterval(() => {
    const row = readDraft(store);
    if (row?.version !== version || row.state !== "running") stop();
  }, LOOK_MS);
  const stop = () => {
    ended = true;
    clearInterval(look);
    worker.terminate().catch((error) => log.error(error, "a thread did not end"));
  };
  worker.on("message", (word: DivisionWord) => {
    if (ended) return;
    if (word.is === "better") write("running", { division: word.division });
    else write("done", { division: word.division, whatIf: word.whatIf });
  });
  worker.on("error", (error) => {
    log.error(error, "a division failed");
    if (!ended) write("failed", { says: "The division broke off. What was found so far stands; divide again" });
  });
  worker.on("exit", () => {
    clearInterval(look);
    if (!ended && readDraft(store)?.version === version)
      write("failed", { says: "The division broke off. What was found so far stands; divide again" });
  });
  worker.unref();
}

/** Where a device goes in a division. */
export const placeOf = (placed: readonly Placed[], device: string) => placed.find((each) => each.device === device);
