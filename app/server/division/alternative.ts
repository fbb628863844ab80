import { docOf, restsNow, workBeside } from "~/app/server/jobs/beside";
import { difference } from "~/core/allocate/move";
import type { BenchTime, Candidate, Question } from "~/core/allocate/question";
import type { Hand, Store } from "~/store/database";
import { divisionDrafts } from "~/store/drafts";
import { groupNames } from "~/store/evenings";
import type { DivisionWord, DivisionWork } from "./divisionWorker";
import { type Draft, standingDraft } from "./draft";
import { divisionQuestion, type Without } from "./question";
import { solverModule } from "./solver";

/** As long as somebody waits for an answer to “what if”. */
const SEARCH_MS = 5000;
/** Answers that stand beside each other. */
const KEPT = 3;

/** What is supposed, in place of what is so. */
export type Supposed =
  | { readonly is: "elsewhere"; readonly device: string }
  | { readonly is: "evenings"; readonly count: number }
  | { readonly is: "devices"; readonly count: number; readonly like: string }
  | ({ readonly is: "without" } & Without);

/** What another situation would come to, beside the one that is. */
export interface Alternative {
  readonly says: string;
  readonly shares: NonNullable<Draft["division"]>["shares"];
  /** What changes against what is looked at, each as a sentence. */
  readonly changes: readonly string[];
  /** Devices that would go somewhere else, from and to a group; null: the reserve. */
  readonly moves: readonly { readonly device: string; readonly from: string | null; readonly to: string | null }[];
}

/** Minutes that one evening more would bring: as many as the evenings there are, on average. */
function eveningMinutes({ bench }: Question, like: Pick<BenchTime, "of" | "skills">): number {
  const kindOf = ({ of = "hands", skills = [] }: Pick<BenchTime, "of" | "skills">) => [of, ...skills].join("|");
  const all = bench.findLast((time) => kindOf(time) === kindOf(like));
  return all?.evenings ? all.minutes / all.evenings : 0;
}

/** The question as it would be, with what that is in words; or what is wrong, in words. */
function suppose(
  store: Store,
  draft: Draft,
  supposed: Supposed,
  at: Date,
): { question: Question; says: string } | string {
  const { question } = draft.asked;
  switch (supposed.is) {
    case "elsewhere": {
      const placed = draft.division?.placed.find(({ device }) => device === supposed.device);
      if (!placed) return `${supposed.device} goes to nobody here`;
      const { group } = placed.option;
      const name = groupNames(store).get(group) ?? group;
      const pins = question.pins.filter(({ device }) => device !== supposed.device);
      return {
        question: { ...question, pins: [...pins, { device: supposed.device, group, kind: "never" }] },
        says: `${supposed.device} did not go to ${name}`,
      };
    }
    case "evenings": {
      if (eveningMinutes(question, {}) === 0)
        return "No evening is held before any group's day: there is nothing to count another one by";
      return {
        question: {
          ...question,
          bench: question.bench.map((each) => ({
            ...each,
            minutes: each.minutes + eveningMinutes(question, each) * supposed.count,
          })),
        },
        says: `there were ${supposed.count === 1 ? "an evening" : `${supposed.count} evenings`} more before every group's day`,
      };
    }
    case "devices": {
      const like = question.candidates.find(({ device }) => device === supposed.like);
      if (!like) return `${supposed.like} can't go to anybody: choose another one`;
      const more = Array.from(
        { length: supposed.count },
        (_, k): Candidate => ({ device: `${supposed.like} more ${k + 1}`, options: like.options }),
      );
      return {
        question: { ...question, candidates: [...question.candidates, ...more] },
        says: `${supposed.count} more ${supposed.count === 1 ? "device" : "devices"} came like ${supposed.like}`,
      };
    }
    case "without":
      return {
        question: divisionQuestion(store, at, supposed).question,
        says: `nobody asked for ${supposed.app}`,
      };
  }
}

/**
 * Divides once more as if something were otherwise, beside the pages; what is looked at stays as it is.
 *
 * @returns what is wrong in words, or null
 */
export function startAlternative(store: Store, supposed: Supposed, hand: Hand): string | null {
  const draft = standingDraft(store);
  if (!draft?.division || draft.state === "running") return "There is no division to compare with. Divide first";
  if (draft.stale) return "Something was written since that bears on it. Divide again first";
  const answer = suppose(store, draft, supposed, new Date(hand.at));
  if (typeof answer === "string") return answer;
  const before = draft.division;
  const names = groupNames(store);
  const first: Draft = { ...docOf(draft), rests: restsNow(store), supposing: answer.says };
  const version = divisionDrafts.begin(store, "running", JSON.stringify(first), hand);
  const data: DivisionWork = {
    question: answer.question,
    milliseconds: SEARCH_MS,
    millisecondsEach: 0,
    solver: solverModule(),
  };
  workBeside<Draft, DivisionWord>({
    store,
    drafts: divisionDrafts,
    version,
    worker: "divisionWorker.mjs",
    data,
    first,
    take: (doc, word) => {
      if (word.is !== "done") return { doc, done: false };
      const alternative: Alternative = {
        says: answer.says,
        shares: word.division.shares,
        changes: difference(before, word.division, (group) => names.get(group) ?? group),
        moves: movesBetween(before.placed, word.division.placed),
      };
      return {
        doc: { ...doc, supposing: null, alternatives: [alternative, ...(doc.alternatives ?? [])].slice(0, KEPT) },
        done: true,
      };
    },
    broken: (doc) => ({ ...doc, supposing: null, says: "What if: it broke off. Ask again" }),
  });
  return null;
}

type Placed = NonNullable<Draft["division"]>["placed"];

function movesBetween(before: Placed, after: Placed): Alternative["moves"] {
  const from = new Map(before.map(({ device, option }) => [device, option.group]));
  const to = new Map(after.map(({ device, option }) => [device, option.group]));
  return [...new Set([...from.keys(), ...to.keys()])]
    .map((device) => ({ device, from: from.get(device) ?? null, to: to.get(device) ?? null }))
    .filter((move) => move.from !== move.to)
    .sort((a, b) => a.device.localeCompare(b.device));
}
