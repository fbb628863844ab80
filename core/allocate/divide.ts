import type { Highs } from "highs";
import { greedy } from "./greedy";
import { keptPins } from "./keptPins";
import { Linear } from "./linear";
import { GOOD } from "./nearly";
import { polish } from "./polish";
import { programOf } from "./program";
import { holdTo, type ProofAsked, type Prover } from "./proof";
import { type Aim, type Placed, type Question, SLACK, scaleOf } from "./question";
import { LARGE, reachAim } from "./reach";
import type { Floors } from "./tally";
import { compareScores, type Scores, type Share, scoresOf, sharesOf } from "./verdict";

/** A division with how good it is, and how good any could be. */
export type Division = {
  readonly placed: readonly Placed[];
  readonly shares: readonly Share[];
  readonly scores: Scores;
  /**
   * Per aim, what was reached and what the solver proved can't be exceeded, given the aims before it; `tight` is what can't be
   * exceeded by divisions that have as much as the normal distribution asks for least numbers (tighten.ts).
   */
  readonly proven: readonly {
    readonly aim: Aim;
    readonly value: number;
    readonly bound: number;
    readonly tight: number;
    /** What is proven of the aims behind it holds as long as it does not fall below this. */
    readonly floor?: number;
  }[];
  /** All aims were solved to their end. */
  readonly finished: boolean;
  /** Pins that could not be kept, in words. */
  readonly problems: readonly string[];
};

export type Limits = {
  readonly highs: Highs;
  readonly milliseconds: number;
  readonly now: () => number;
  /** Proves beside what is not proven on the way; nothing said: the time is shared. */
  readonly prover?: Prover;
  /** Each better division as it is found. */
  readonly onBetter?: (division: Division) => void;
};

/**
 * Divides devices among waiting groups: the aims in their order, each as good as can be without losing anything of those
 * before it (mixed-integer programming). The chance that a least number is met is no linear thing: it is checked exactly
 * afterwards, and a choice that is not enough is cut off (tighten.ts), until what the model takes as met is met. With few
 * different chances nothing that is enough is ever cut off, and of a small question what comes out is the best there is; of a
 * large one it may be behind its bound by as much as is told.
 *
 * @source lexicographic goal programming; Poisson-binomial chance (confidence.ts)
 * @example divide({ groups, candidates, … }, { highs, milliseconds: 5000, … }).shares[0].expected // 8.7
 */
export function divide(question: Question, { highs, milliseconds, now, prover, onBetter }: Limits): Division {
  const until = now() + milliseconds;
  const { kept, problems } = keptPins(question);
  let best = told(question, greedy(question, kept), [], problems);
  onBetter?.(best);
  const program = programOf(question, kept, new Linear(highs));
  const proven: Proof[] = [];
  const pinned = new Set(kept.map(({ device }) => device));
  const floors: { -readonly [A in keyof Floors]: Floors[A] } = {};
  /** From an aim on, better counts; those before it may fall to their floors. */
  const take = (placed: readonly Placed[], from: number) => {
    const division = told(question, placed, [...proven], problems);
    const { scores } = division;
    const falls = question.aims.slice(0, from).some((aim) => scores[aim] < (floors[aim] ?? scores[aim]) - SLACK);
    if (falls || compareScores(question.aims.slice(from), scores, best.scores) < 0) return;
    best = division;
    prover?.reached(scores);
    onBetter?.(best);
  };
  /** Floors that a division keeps, but for one aim's. */
  const heldBy = (placed: readonly Placed[], but: Aim): Floors => {
    const scores = scoresOf(question, placed);
    const held = Object.entries(floors) as [Aim, number][];
    return Object.fromEntries(held.filter(([key, floor]) => key !== but && scores[key] >= floor));
  };
  /** What the solver did not come near to, small changes may; minutes that nothing needs are freed first. */
  const better = (k: number, turn: number) => {
    const aim = question.aims[k];
    const changes = { seed: k + 1, pinned };
    if (best.scores[aim] >= mostOf(question, aim) - SLACK) return;
    const half = (now() + turn) / 2;
    const held = { ...floors, [aim]: best.scores[aim] };
    const freed = question.bench.length
      ? polish(question, best.placed, "hands", held, { ...changes, goOn: () => now() < half })
      : best.placed;
    const most = () => Math.min(mostOf(question, aim), prover?.bound(aim) ?? Number.POSITIVE_INFINITY);
    const goOn = (scores: Scores) => now() < turn && scores[aim] < most() - SLACK;
    take(polish(question, freed, aim, floors, { ...changes, goOn }), k);
  };
  prover?.reached(best.scores);
  const toProve: ProofAsked[] = [];
  /** Stays near what is proven already, also where what is aimed at behind it takes all that it may. */
  const staysNear = (asked: Aim) =>
    proven.some(
      ({ aim, value, bound }) => aim === asked && bound - value <= (GOOD - question.leeway) * scaleOf(aim, value),
    );
  /** Not before builds are chosen: their own proof takes longest, and is begun with them. */
  const beginOtherProofs = () => {
    const rank = ({ aim }: ProofAsked) => Number(staysNear(aim));
    for (const asked of toProve.splice(0).sort((a, b) => rank(a) - rank(b))) prover?.begin(asked);
  };
  for (const [k, aim] of question.aims.entries()) {
    const goal = program.goals[aim];
    if (goal.length === 0) continue;
    // What counts first gets most of the time that is left; an aim that is quick leaves the others more.
    const begun = now();
    const turn = begun + (until - begun) * Math.min(1, SHARE / (question.aims.length - k));
    // What the solver finds is nearly always close to something that is enough and falls below no floor.
    const mend = (placed: readonly Placed[]) => {
      const by = Math.max(Math.min(until, now() + MENDING), Math.min(turn, now() + (turn - begun) / 8));
      const changes = { seed: k + 1, pinned };
      let mended = placed;
      for (const earlier of aim === "least" ? question.aims.slice(0, k + 1) : question.aims.slice(0, k)) {
        const wanted = earlier === aim ? Number.POSITIVE_INFINITY : (floors[earlier] ?? Number.NEGATIVE_INFINITY);
        const goOn = (scores: Scores) => scores[earlier] < wanted && now() < by;
        mended = polish(question, mended, earlier, heldBy(mended, earlier), { ...changes, goOn });
      }
      take(aim === "least" ? mended : polish(question, mended, aim, floors, { ...changes, goOn: () => now() < by }), k);
      return best.placed;
    };
    // Of a large program the first look is better than what small changes find: but for who has enough.
    const isLarge = program.columns.length > LARGE;
    const isProvenBeside = prover && isLarge && aim !== "least";
    if (isProvenBeside && aim === "builds") prover.begin({ aim, floors: { ...floors } });
    else if (isProvenBeside) toProve.push({ aim, floors: { ...floors } });
    if (question.aims.slice(0, k).includes("builds")) beginOtherProofs();
    if (aim === "least" || !isLarge) better(k, begun + (turn - begun) * POLISH);
    const solve = turn - (turn - begun) * POLISH;
    const seconds = () => (solve - now()) / 1000;
    const held = question.aims.slice(0, k).filter((earlier) => earlier !== "least" && floors[earlier] !== undefined);
    const lacks = (placed: readonly Placed[]) => {
      const scores = scoresOf(question, placed);
      return held.map((earlier) => Math.max(0, (floors[earlier] as number) - scores[earlier]));
    };
    const margins = held.map((earlier) => MARGIN * question.leeway * scaleOf(earlier, floors[earlier] as number));
    const taking = (placed: readonly Placed[]) => {
      take(placed, k);
      return best.placed;
    };
    const start = best.placed;
    const most = mostOf(question, aim);
    const { bound, tight } =
      best.scores[aim] >= most - SLACK
        ? { bound: most, tight: most }
        : reachAim({
            question,
            program,
            aim,
            start,
            held,
            seconds,
            lacks,
            margins,
            mend,
            take: taking,
            beside: isProvenBeside ? () => prover.bound(aim) : undefined,
          });
    if (bound - best.scores[aim] > GOOD * scaleOf(aim, best.scores[aim])) better(k, turn);
    const value = best.scores[aim];
    const floor = value - SLACK - question.leeway * scaleOf(aim, value);
    proven.push({ aim, value, bound: Math.max(value, bound), tight: Math.max(value, tight), floor });
    floors[aim] = floor;
    holdTo(program, aim, floor);
  }
  beginOtherProofs();
  return withProof({ ...best, proven }, prover);
}

/** What is reached in the end is held against what was proven on the way, and beside. */
export function withProof(division: Division, prover?: Prover): Division {
  const last = division.proven.map((proof) => {
    const { aim, bound, tight } = proof;
    const value = division.scores[aim];
    const beside = Math.max(value, prover?.bound(aim) ?? Number.POSITIVE_INFINITY);
    return {
      ...proof,
      value,
      bound: Math.max(value, Math.min(bound, beside)),
      tight: Math.max(value, Math.min(tight, beside)),
    };
  });
  const finished = last.every(({ value, bound }) => bound - value <= 1e-4 * Math.max(1, Math.abs(value)));
  return { ...division, proven: last, finished };
}

/**
 * Whether no aim is further from what is proven than by this part of it; nothing said: by more than what is good enough.
 *
 * @example isNear({ proven: [{ aim: "builds", value: -12, bound: -11, … }], … }, 0.02) // false …
 */
export const isNear = ({ proven }: Division, part = GOOD): boolean =>
  proven.every(({ aim, value, bound }) => bound - value <= part * scaleOf(aim, value));

/**
 * What no division exceeds was proven with what the aims before had reached: where a move by hand lets one of them fall below
 * that, it is not proven any more of those behind it.
 *
 * @example stillProven([{ aim: "years", value: 4, floor: 5, … }, { aim: "hands", … }]) // [true, false] …
 */
export function stillProven(proven: Division["proven"]): boolean[] {
  const fell = proven.findIndex(({ value, floor }) => floor !== undefined && value < floor - SLACK);
  return proven.map((_, k) => fell < 0 || k <= fell);
}

/** What an aim can't exceed, whatever there is: everybody has enough, nobody falls short. */
function mostOf({ groups }: Question, aim: Aim): number {
  if (aim === "least") return groups.reduce((sum, { weight }) => sum + weight, 0);
  return aim === "fair" ? 0 : Number.POSITIVE_INFINITY;
}

/** Part of an aim's time for small changes, where they are needed. */
const POLISH = 0.15;
/** How much more than an even part of the time that is left one aim may take: most need less. */
const SHARE = 1.3;

/** Part of the leeway that is asked for beyond a floor where it may be fallen below. */
const MARGIN = 4;
/** Milliseconds that mending may take also where an aim's time is over: what was found is worth it. */
const MENDING = 150;

type Proof = Division["proven"][number];

function told(
  question: Question,
  placed: readonly Placed[],
  proven: Division["proven"],
  problems: readonly string[],
): Division {
  return {
    placed,
    proven,
    finished: false,
    problems,
    shares: sharesOf(question, placed),
    scores: scoresOf(question, placed),
  };
}
