import { restsNow, type Standing, standingWork, workBeside } from "~/app/server/jobs/beside";
import type { Division } from "~/core/allocate/divide";
import type { WhatIf } from "~/core/allocate/whatIf";
import type { Hand, Store } from "~/store/database";
import { divisionDrafts } from "~/store/drafts";
import type { Alternative } from "./alternative";
import type { DivisionWord, DivisionWork } from "./divisionWorker";
import type { DoneMove } from "./moves";
import { type Asked, divisionQuestion } from "./question";
import { solverModule } from "./solver";

/** As long as anybody wants to look at something that only gets a little better. */
const SEARCH_MS = 9500;
const WHAT_IF_MS = 1500;

/** A division as it is looked at: what was asked, and the best so far. */
export interface Draft {
  readonly asked: Asked;
  readonly division: Division | null;
  readonly whatIf: readonly WhatIf[];
  /** Devices are divided: what no division can exceed is still being proven. */
  readonly proving?: boolean;
  /** What is being supposed at the moment; null where nothing is. */
  readonly supposing?: string | null;
  /** What other situations would come to, the newest first. */
  readonly alternatives?: readonly Alternative[];
  /** What the last move by hand cost or gained, in words; null where nobody moved anything. */
  readonly moved: string | null;
  /** Moves by hand since it was worked out that can be undone, the last one first. */
  readonly undo?: readonly DoneMove[];
  /** The state of the lane it rests on. */
  readonly rests: string;
  readonly says: string;
}
export type StandingDraft = Standing<Draft>;

/** The draft that stands; null when there is none. */
export const standingDraft = (store: Store): StandingDraft | null => standingWork<Draft>(store, divisionDrafts);

/** Begins to work a division out, beside the pages. @returns what is wrong in words, or null */
export function startDivision(store: Store, hand: Hand): string | null {
  const asked = divisionQuestion(store, new Date(hand.at));
  if (asked.question.groups.length === 0) return "No group waits. Write down who waits for what first";
  if (asked.question.candidates.length === 0)
    return "No device could go to any of the groups yet: look at Match what stops them";
  const first: Draft = { asked, division: null, whatIf: [], moved: null, rests: restsNow(store), says: "" };
  const version = divisionDrafts.begin(store, "running", JSON.stringify(first), hand);
  const data: DivisionWork = {
    question: asked.question,
    milliseconds: SEARCH_MS,
    millisecondsEach: WHAT_IF_MS,
    solver: solverModule(),
  };
  workBeside<Draft, DivisionWord>({
    store,
    drafts: divisionDrafts,
    version,
    worker: "divisionWorker.mjs",
    data,
    first,
    take: taken,
    broken: (doc) => ({ ...doc, says: "The division broke off. What was found so far stands; divide again" }),
  });
  return null;
}

/** What a word of the thread makes of a draft. */
export const taken = (doc: Draft, word: DivisionWord): { readonly doc: Draft; readonly done: boolean } =>
  word.is === "done"
    ? { doc: { ...doc, division: word.division, whatIf: word.whatIf, proving: false }, done: true }
    : { doc: { ...doc, division: word.division, proving: word.is === "proving" }, done: false };
