import type { Highs } from "highs";
import { keptPins } from "./keptPins";
import { Linear } from "./linear";
import { type Program, programOf } from "./program";
import type { Aim, Question } from "./question";
import { boundOf, countsBuilds, type Proving } from "./relaxed";
import type { Floors } from "./tally";
import type { Scores } from "./verdict";

/** What no division can exceed is asked for: an aim, with what those before it must not fall below. */
export type ProofAsked = { readonly aim: Aim; readonly floors: Floors };

/** Proves beside, in a thread of its own, while devices are divided. */
export type Prover = {
  /** Asks for a proof; one after the other is worked at. */
  readonly begin: (asked: ProofAsked) => void;
  /** What is proven so far of an aim that was asked for; not a finite number: nothing yet. */
  readonly bound: (aim: Aim) => number;
  /** Tells what stands by now: what is proven to be no more than that needs no further proof. */
  readonly reached: (scores: Scores) => void;
};

/** Seconds that an aim is looked at, while those behind it wait: without builds, and builds themselves. */
const FREELY = 1.5;
const BUILDS = 16;

/**
 * Holds a program to what an aim has reached. Which groups have enough is a yes or no each: it is kept, whatever it costs; and
 * a group without which it can't be reached is a yes, which half a yes would not say where nothing has to be whole.
 */
export function holdTo({ linear, goals }: Program, aim: Aim, floor: number): void {
  if (aim !== "least") {
    linear.floor(goals[aim], floor);
    return;
  }
  linear.atLeast(goals.least, floor);
  const most = goals.least.reduce((sum, [yes, weight]) => sum + weight * linear.most(yes), 0);
  // One that can't have enough whatever is done takes part in nothing.
  for (const [yes, weight] of goals.least) if (most - weight * linear.most(yes) < floor) linear.atLeast([[yes, 1]], 1);
}

/**
 * What no division exceeds, looked at for as long as that takes.
 *
 * @param seconds how many are left
 * @param onBound told what is proven so far, whenever it comes closer
 * @param enough  what stands by now: nothing closer than that can be proven
 * @example prove({ groups, candidates, … }, { aim: "builds", floors: { least: 12 } }, { highs, … }) // -9
 */
export function prove(
  question: Question,
  { aim, floors }: ProofAsked,
  { highs, ...looking }: Omit<Proving, "start" | "isWhole"> & { readonly highs: Highs },
): number {
  const program = programOf(question, keptPins(question).kept, new Linear(highs));
  const held = question.aims.filter((earlier) => floors[earlier] !== undefined);
  for (const earlier of held) holdTo(program, earlier, floors[earlier] as number);
  const reach = { program, aim, held };
  const most = { ...looking, seconds: within(looking.seconds, aim === "builds" ? BUILDS : FREELY), isWhole: true };
  if (aim === "builds" || !countsBuilds(reach)) return boundOf(reach, most);
  // Behind builds it takes longest: first without whole numbers of devices, then for as long as there is time.
  return Math.min(boundOf(reach, looking), boundOf(reach, { ...looking, isWhole: true }));
}

/** Seconds that are left, of so many from now on at most. */
function within(seconds: () => number, most: number): () => number {
  const end = Math.max(0, seconds() - most);
  return () => seconds() - end;
}
