import type { Found } from "./linear";
import { columnsOf, type Program, placedBy } from "./program";
import type { Aim, Placed, Question } from "./question";
import type { askedRows } from "./tighten";

// Parts of a division that is too large to be solved whole in time: some of it is settled, the rest is divided anew.

/** Where what is asked for is heuristic, what is found need be no better than by this part of it. */
export const NEARLY = 2e-3;
/** Beside classes that did not come out whole, that of one column in so many is divided anew: else there is hardly any room. */
const EVERY = 100;
/** Of a large program so many choices are divided anew around what came out without whole numbers. */
const CORE = 300;
/** How much dearer than it is worth without whole numbers it is to fall below what was reached before. */
const DEAR = 2.5;
/** So often is more asked for than what was reached before, where that fell short. */
const ATTEMPTS = 2;
/** How much of what fell short is asked for on top the next time. */
const AGAIN = 1.25;
/** As near to a whole number as a computer comes. */
const WHOLE = 1e-6;
/** What is worth nothing there costs this much at least. */
const LEAST_PRICE = 1e-3;
/** Choices of a large program that are free beside those in which what stands and what comes out without whole numbers differ. */
const BESIDE = 150;

/** What is known when an aim is looked at. */
export type Reach = {
  readonly question: Question;
  readonly program: Program;
  readonly aim: Aim;
  readonly start: readonly Placed[];
  /** Seconds that are left for this aim. */
  readonly seconds: () => number;
  /** By how much a division falls below each of the floors, in their order. */
  readonly lacks: (placed: readonly Placed[]) => readonly number[];
  /** By how much more than each floor is asked for where it may be fallen below, since what is found there usually does. */
  readonly margins: readonly number[];
  /** Makes what is not enough into something that is, close by. @returns the best that stands then */
  readonly mend: (placed: readonly Placed[]) => readonly Placed[];
};

export type Turn = { readonly seconds: number; readonly besides: ReturnType<typeof askedRows> };
export type Nearly = Found | { readonly values: null; readonly bound: number } | null;

/**
 * What no division exceeds: what comes out where devices need not be whole. Who has enough is a yes or no all the same: half a
 * yes would take half of what it takes, and promise more than there is.
 *
 * @returns `settled`: the answers, where they were not whole by themselves
 */
export function withoutWholes({ linear, goals, met }: Program, aim: Aim, { seconds, besides }: Turn) {
  const free = linear.largest(goals[aim], seconds, { besides, relaxed: true });
  if (!free) return null;
  const answers = [...met.values()];
  const told = answers.every((column) => isWhole(free.values[column]))
    ? null
    : linear.largest(goals[aim], seconds / 2, { besides, whole: new Set(answers) });
  if (!told) return { found: free, bound: free.bound, settled: NOTHING };
  const settled = new Map(answers.map((column) => [column, Math.round(told.values[column])]));
  return { found: told, bound: Math.min(free.bound, told.bound), settled };
}

const NOTHING: ReadonlyMap<number, number> = new Map();
const isWhole = (value: number) => Math.abs(value - Math.round(value)) < WHOLE;

function relax({ program, aim }: Reach, turn: Turn) {
  const proven = withoutWholes(program, aim, turn);
  if (!proven) return null;
  const { bound, settled } = proven;
  // What one more would cost is told only where nothing at all has to be whole.
  const asked = { besides: turn.besides, relaxed: true, fixed: settled };
  const found = settled.size === 0 ? proven.found : program.linear.largest(program.goals[aim], turn.seconds, asked);
  if (!found) return null;
  const { values, columnCosts = [], floorCosts = [] } = found;
  return {
    bound,
    floorCosts,
    isWhole: (column: number) => isWhole(values[column]),
    value: (column: number) => values[column],
    /** What it would cost to have one more or one less than there. */
    costOf: (column: number) => Math.abs(columnCosts[column]),
    settle: (kept: readonly number[]) =>
      new Map([...settled, ...kept.map((column) => [column, Math.round(values[column])] as const)]),
    /** What holds for a part of the choices holds for all of them only without whole numbers. */
    within: (part: Found | null): Nearly => (part ? { ...part, bound } : { values: null, bound }),
    numbers: program.columns.map(({ column }) => column),
  };
}

/**
 * Quickly something good: classes whose numbers came out whole stay, and the few others are divided anew; where that leaves no
 * room, what both this and the division that stands agree on stays.
 *
 * @source relaxation enforced neighbourhood search (Berthold 2014, Operations Research Letters 42); relaxation induced
 *         neighbourhoods (Danna, Rothberg, Le Pape 2005, Mathematical Programming 102)
 */
export function nearlyLargest(reach: Reach, stands: readonly Placed[], turn: Turn): Nearly {
  const { linear, columns, goals } = reach.program;
  const relaxed = relax(reach, turn);
  if (!relaxed) return null;
  const broken = new Set(columns.flatMap(({ column, of }) => (relaxed.isWhole(column) ? [] : [of])));
  const free = new Set(columns.filter(({ of }, k) => broken.has(of) || k % EVERY === 0).map(({ of }) => of));
  const settled = columns.filter(({ of }) => !free.has(of)).map(({ column }) => column);
  const around = (kept: readonly number[], start?: ReadonlyMap<number, number>) =>
    linear.largest(goals[reach.aim], turn.seconds / 2, {
      besides: turn.besides,
      fixed: relaxed.settle(kept),
      start,
      gap: NEARLY,
    });
  const aroundBoth = () => {
    const start = columnsOf(columns, stands);
    const agrees = (column: number) => Math.abs(relaxed.value(column) - (start.get(column) ?? 0)) < WHOLE;
    return around(relaxed.numbers.filter(agrees), start);
  };
  return relaxed.within(around(settled) ?? aroundBoth());
}

/**
 * The same for a large program: what it would hardly use without whole numbers, or hardly leave, is settled, and the others are
 * divided anew, with what was reached before for a price that is dear rather than at all costs: else hardly any division
 * in whole numbers is found in time. What falls a little short is mended behind it.
 *
 * @source the core of a knapsack problem (Balas and Zemel 1980, Operations Research 28)
 */
export function nearlyInCore(reach: Reach, turn: Turn): Nearly {
  const { linear, columns, goals } = reach.program;
  const relaxed = relax(reach, turn);
  if (!relaxed) return null;
  const costOf = (column: number) => (relaxed.isWhole(column) ? relaxed.costOf(column) : -1);
  const fixed = relaxed.settle(relaxed.numbers.sort((a, b) => costOf(a) - costOf(b)).slice(CORE));
  const prices = relaxed.floorCosts.map((cost) => DEAR * Math.max(cost, LEAST_PRICE));
  let found: Found | null = null;
  let { margins } = reach;
  for (let attempt = 0; attempt < ATTEMPTS; attempt++) {
    const asked = { besides: turn.besides, fixed, prices, margins, gap: NEARLY };
    const next = linear.largest(goals[reach.aim], turn.seconds / ATTEMPTS, asked);
    if (!next) break;
    found = next;
    const lack = reach.lacks(placedBy(columns, next.values));
    if (lack.every((less) => less === 0)) break;
    margins = margins.map((margin, k) => margin + lack[k] * AGAIN);
  }
  return relaxed.within(found);
}

/**
 * The next step for a large program: what came out whole and is so in the division that stands too is settled, but for the
 * choices that would cost least; the others are divided anew from what stands, and nothing falls below what was reached before.
 *
 * @source relaxation induced neighbourhoods, as above
 */
export function nearWhatStands(reach: Reach, stands: readonly Placed[], turn: Turn): Nearly {
  const { linear, columns, goals } = reach.program;
  const relaxed = relax(reach, turn);
  if (!relaxed) return null;
  const start = columnsOf(columns, stands);
  const agrees = (column: number) =>
    relaxed.isWhole(column) && Math.round(relaxed.value(column)) === (start.get(column) ?? 0);
  const alike = relaxed.numbers.filter(agrees).sort((a, b) => relaxed.costOf(a) - relaxed.costOf(b));
  const asked = { besides: turn.besides, fixed: relaxed.settle(alike.slice(BESIDE)), start, gap: NEARLY };
  return relaxed.within(linear.largest(goals[reach.aim], turn.seconds, asked));
}
