import type { Found } from "./linear";
import { columnsOf, type Program, placedBy } from "./program";
import { type Aim, type Placed, type Question, scaleOf } from "./question";
import { askAhead, askedRows, shortOf, tighten } from "./tighten";
import { scoresOf } from "./verdict";

/** Part of an aim's time that goes into proving, where more was asked than is needed. */
const PROVE = 0.2;
/** Part of it that may go into what is found quickly. */
const QUICK = 0.5;
/** What was found quickly and is this near its bound is good enough: the aims behind it get the time. */
const GOOD = 0.01;
/** Where what is asked for is heuristic, what is found need be no better than by this part of it. */
const NEARLY = 2e-3;
/** Beside classes that did not come out whole, that of one column in so many is divided anew: else there is hardly any room. */
const EVERY = 100;
/** Of a large program so many choices are divided anew around what came out without whole numbers. */
const CORE = 300;
/** Programs above this size are looked at by their core. */
const LARGE = 1000;
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
/** Seconds below which solving the whole of a large program brings nothing. */
const WORTH = 0.4;
/** Programs up to this size are solved at once. */
const SMALL = 300;

export type Reached = Found & {
  readonly placed: readonly Placed[];
  readonly enough: boolean;
  /** What can't be exceeded with as much as was asked for; the bound itself holds without that. */
  readonly tight: number;
};

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

/**
 * One aim as good as can be. What the model takes as enough and is not is cut off, and the aim is looked at again; nothing
 * that an aim before it reached is lost, since that was enough.
 */
export function reachAim(reach: Reach): Reached | null {
  const { question, program, aim, seconds, mend } = reach;
  const goal = program.goals[aim];
  askAhead(program, question, reach.start);
  const all = seconds();
  const prove = program.asked.size > 0 ? all * PROVE : 0;
  let stands = reach.start;
  let reached: Reached | null = null;
  let tight = Number.POSITIVE_INFINITY;
  const { length: size } = program.columns;
  for (let whole = size <= SMALL; ; ) {
    const besides = askedRows(program, question, stands);
    const turn = { besides, seconds: Math.max(0.1, seconds() - (whole ? prove : all * (1 - QUICK))) };
    const isCore = !whole && size > LARGE;
    const found = whole
      ? program.linear.largest(goal, turn.seconds, {
          gap: prove > 0 ? NEARLY : 0,
          start: columnsOf(program.columns, stands),
          besides,
        })
      : isCore
        ? nearlyInCore(reach, turn)
        : nearlyLargest(reach, stands, turn);
    tight = Math.min(tight, found?.bound ?? tight);
    if (!found && whole) break;
    if (found?.values) {
      const { values } = found;
      const placed = placedBy(program.columns, values);
      const short = shortOf(program, question, found, placed);
      const enough = short.length === 0;
      if (isCore) {
        // It may fall below what was reached before: what counts is what mending makes of it.
        stands = mend(placed);
        const value = scoresOf(question, stands)[aim];
        reached = { values, value, bound: tight, placed: stands, enough: true, tight };
      } else reached = { values, value: found.value, bound: tight, placed, enough, tight };
      if (reached.enough && (whole || tight - reached.value <= GOOD * scaleOf(aim, reached.value))) break;
      if (!isCore) stands = mend(placed);
      tighten(program, question, short, placed);
    }
    if (isCore && reached && seconds() <= prove + WORTH) break;
    const ended = seconds() <= prove;
    if (whole && ended) break;
    // What was found quickly and is enough is a good beginning for the whole program.
    whole ||= !found?.values || reached?.enough === true || seconds() <= all * (1 - QUICK);
  }
  return prove > 0 ? provenFreely(reach, stands, reached) : reached;
}

/**
 * More was asked than is needed: what no division can exceed is proven without that. A small program is solved for it, and may
 * come out better; of a large one whole numbers are not asked for.
 */
function provenFreely({ question, program, aim, seconds }: Reach, stands: readonly Placed[], reached: Reached | null) {
  const relaxed = program.columns.length > SMALL;
  const start = relaxed ? undefined : columnsOf(program.columns, stands);
  const free = program.linear.largest(program.goals[aim], Math.max(relaxed ? 0.5 : 0.1, seconds()), { start, relaxed });
  if (!free) return reached && { ...reached, bound: Number.POSITIVE_INFINITY };
  if (relaxed) return reached && { ...reached, bound: free.bound };
  const placed = placedBy(program.columns, free.values);
  const enough = shortOf(program, question, free, placed).length === 0;
  return enough && (!reached || free.value > reached.value)
    ? { ...free, placed, enough, tight: free.bound }
    : reached && { ...reached, bound: free.bound };
}

type Turn = { readonly seconds: number; readonly besides: ReturnType<typeof askedRows> };
type Nearly = Found | { readonly values: null; readonly bound: number } | null;

/**
 * Quickly something good: solved without whole numbers first. Classes whose numbers came out whole stay, and the few others are
 * divided anew; where that leaves no room, what both this and the division that stands agree on stays.
 *
 * @source relaxation enforced neighbourhood search (Berthold 2014, Operations Research Letters 42); relaxation induced
 *         neighbourhoods (Danna, Rothberg, Le Pape 2005, Mathematical Programming 102)
 */
function nearlyLargest(
  { program: { linear, columns, goals }, aim }: Reach,
  stands: readonly Placed[],
  { seconds, besides }: Turn,
): Nearly {
  const goal = goals[aim];
  const relaxed = linear.largest(goal, seconds, { besides, relaxed: true });
  if (!relaxed) return null;
  const { values, bound } = relaxed;
  const isWhole = (column: number) => Math.abs(values[column] - Math.round(values[column])) < WHOLE;
  const broken = new Set(columns.flatMap(({ column, of }) => (isWhole(column) ? [] : [of])));
  const free = new Set(columns.filter(({ of }, k) => broken.has(of) || k % EVERY === 0).map(({ of }) => of));
  const settled = columns.filter(({ of }) => !free.has(of)).map(({ column }) => column);
  const around = (kept: readonly number[], start?: ReadonlyMap<number, number>) => {
    const fixed = new Map(kept.map((column) => [column, Math.round(values[column])]));
    return linear.largest(goal, seconds / 2, { besides, fixed, start, gap: NEARLY });
  };
  const aroundBoth = () => {
    const start = columnsOf(columns, stands);
    const agree = (column: number) => Math.abs(values[column] - (start.get(column) ?? 0)) < 1e-6;
    return around(
      columns.flatMap(({ column }) => (agree(column) ? [column] : [])),
      start,
    );
  };
  const found = around(settled) ?? aroundBoth();
  // What holds for a part of the choices holds for all of them only without whole numbers.
  return found ? { ...found, bound } : { values: null, bound };
}

/**
 * The same for a large program: what it would hardly use without whole numbers, or hardly leave, is settled, and the others are
 * divided anew, with what was reached before for a price that is dear rather than at all costs: else hardly any division
 * in whole numbers is found in time. What falls a little short is mended behind it.
 *
 * @source the core of a knapsack problem (Balas and Zemel 1980, Operations Research 28)
 */
function nearlyInCore(
  { program: { linear, columns, goals }, aim, lacks, margins: usual }: Reach,
  { seconds, besides }: Turn,
): Nearly {
  const goal = goals[aim];
  const relaxed = linear.largest(goal, seconds, { besides, relaxed: true });
  if (!relaxed) return null;
  const { values, bound, columnCosts = [], floorCosts = [] } = relaxed;
  const isWhole = (column: number) => Math.abs(values[column] - Math.round(values[column])) < WHOLE;
  const costOf = (column: number) => (isWhole(column) ? Math.abs(columnCosts[column]) : -1);
  const byCost = columns.map(({ column }) => column).sort((a, b) => costOf(a) - costOf(b));
  const fixed = new Map(byCost.slice(CORE).map((column) => [column, Math.round(values[column])]));
  const prices = floorCosts.map((cost) => DEAR * Math.max(cost, LEAST_PRICE));
  let found: Found | null = null;
  let margins = usual;
  for (let attempt = 0; attempt < ATTEMPTS; attempt++) {
    const next = linear.largest(goal, seconds / ATTEMPTS, { besides, fixed, prices, margins, gap: NEARLY });
    if (!next) break;
    found = next;
    const lack = lacks(placedBy(columns, next.values));
    if (lack.every((less) => less === 0)) break;
    margins = margins.map((margin, k) => margin + lack[k] * AGAIN);
  }
  // What holds for a part of the choices holds for all of them only without whole numbers.
  return found ? { ...found, bound } : { values: null, bound };
}
