import type { DeviceClass } from "./classes";
import { type Found, WHOLE } from "./linear";
import { columnsOf, kindsAsIn, type Program, placedBy } from "./program";
import { type Placed, scaleOf } from "./question";
import { countsBuilds, NEARLY, type Reach, type Relaxed, relax, type Settled, type Turn } from "./relaxed";
import { scoresOf } from "./verdict";

// Parts of a division that is too large to be solved whole in time: some of it is settled, the rest is divided anew.

/** What was found quickly and is this near its bound is good enough: the aims behind it get the time. */
export const GOOD = 0.02;
/**
 * Parts of a device by which all floors are kept clear of, one after the other, since in whole numbers hardly anything is found
 * right at them; and how many classes are divided anew beside those that did not come out whole.
 */
const TRIES = [
  { room: 0.25, besides: [0, 20] },
  { room: 0.1, besides: [0, 20] },
  { room: 0.5, besides: [0] },
  { room: 0.04, besides: [0, 20] },
  { room: 0, besides: [0, 20] },
];
/** Of a large program so many choices are divided anew around what came out without whole numbers. */
const CORE = 300;
/** How much dearer than it is worth without whole numbers it is to fall below what was reached before. */
const DEAR = 25;
/** So often is more asked for than what was reached before, where that fell short. */
const ATTEMPTS = 2;
/** How much of what fell short is asked for on top the next time. */
const AGAIN = 1.25;
/** What is worth nothing there costs this much at least. */
const LEAST_PRICE = 1e-3;
/** Part of the time that one look may take; seconds that it may take in any case. */
const LOOK = 0.85;
const LEAST_LOOK = 0.6;
export type Nearly = Found | { readonly values: null; readonly bound: number } | null;

/**
 * Quickly something good: all floors are kept a little clear of, classes whose numbers came out whole stay, and the few others
 * are divided anew, in the room that this left; where there is nothing, with more or less room, or with some classes more.
 *
 * @source relaxation enforced neighbourhood search (Berthold 2014, Operations Research Letters 42), with room added
 */
export function nearlyLargest(reach: Reach, turn: Turn): Nearly {
  const { program, aim, seconds } = reach;
  const until = seconds() - turn.seconds;
  const bound = program.linear.largest(program.goals[aim], turn.seconds, {
    besides: turn.besides(0),
    relaxed: true,
  })?.bound;
  if (bound === undefined) return null;
  const goodAt = bound - GOOD * scaleOf(aim, bound);
  const found = roundedUp(reach, { ...turn, seconds: seconds() - until }, { goodAt });
  return found ? { ...found, bound } : { values: null, bound };
}

/** Made whole with this room and that, until it is good; the best of them, by the aim that leads. */
export function roundedUp(
  reach: Reach,
  turn: Turn,
  settled: Settled & { readonly goodAt: number },
): Omit<Found, "bound"> | null {
  const { question, program, seconds } = reach;
  const { linear, columns, goals } = program;
  const until = seconds() - turn.seconds;
  const left = () => seconds() - until;
  const look = () => Math.max(LEAST_LOOK, Math.min(left(), turn.seconds * LOOK));
  let best: Omit<Found, "bound"> | null = null;
  for (const { room, besides } of TRIES) {
    const relaxed = left() > 0 ? relax(reach, { ...turn, seconds: left() }, room, settled) : null;
    if (!relaxed) continue;
    for (const more of besides) {
      if (left() <= 0 && more > 0) break;
      const free = freeClasses(program, relaxed, more);
      const kept = columns.filter(({ of }) => !free.has(of)).map(({ column }) => column);
      const asked = { besides: turn.besides(0), fixed: relaxed.settle(kept), gap: GOOD / 4 };
      const found = linear.largest(goals[relaxed.lead], look(), asked);
      if (!found) continue;
      const value = scoresOf(question, placedBy(columns, found.values))[settled.lead ?? reach.aim];
      if (!best || value > best.value) best = { ...found, value };
      if (best.value >= settled.goodAt) return best;
    }
  }
  return best;
}

/** Classes that did not come out whole, and so many more of which a choice that is not taken would cost least. */
function freeClasses({ columns }: Program, { isWhole, value, costOf }: Relaxed, more: number): Set<DeviceClass> {
  const broken = new Set(columns.flatMap(({ column, of }) => (isWhole(column) ? [] : [of])));
  const costs = new Map<DeviceClass, number>();
  for (const { column, of } of columns)
    if (!broken.has(of) && value(column) < WHOLE)
      costs.set(of, Math.min(costs.get(of) ?? Number.POSITIVE_INFINITY, costOf(column)));
  const near = [...costs].sort(([, a], [, b]) => a - b).slice(0, more);
  return new Set([...broken, ...near.map(([of]) => of)]);
}

/**
 * The same for a large program where every floor is tight: what it would hardly use without whole numbers, or hardly leave, is
 * settled, and the others are divided anew, with what was reached before for a price that is dear rather than at all costs.
 * What falls a little short is mended behind it.
 *
 * @source the core of a knapsack problem (Balas and Zemel 1980, Operations Research 28)
 */
export function nearlyInCore(reach: Reach, turn: Turn): Nearly {
  const { linear, columns, goals } = reach.program;
  const relaxed = relax(reach, turn, 0);
  if (!relaxed) return null;
  const costOf = (column: number) => (relaxed.isWhole(column) ? relaxed.costOf(column) : -1);
  const fixed = relaxed.settle(relaxed.numbers.sort((a, b) => costOf(a) - costOf(b)).slice(CORE));
  const prices = relaxed.floorCosts.map((cost) => DEAR * Math.max(cost, LEAST_PRICE));
  let found: Found | null = null;
  let { margins } = reach;
  for (let attempt = 0; attempt < ATTEMPTS; attempt++) {
    const asked = { besides: turn.besides(0), fixed, prices, margins, gap: NEARLY };
    const next = linear.largest(goals[reach.aim], turn.seconds / ATTEMPTS, asked);
    if (!next) break;
    found = next;
    const lack = reach.lacks(placedBy(columns, next.values));
    if (lack.every((less) => less === 0)) break;
    margins = margins.map((margin, k) => margin + lack[k] * AGAIN);
  }
  return found && { ...found, bound: Number.POSITIVE_INFINITY };
}

/**
 * The next step: what came out whole and is so in the division that stands too is settled, but for the choices that would cost
 * least; the others are divided anew from what stands, and nothing falls below what was reached before. Builds that count and
 * are not in use stay so.
 *
 * @param beside so many choices are free beside those in which the two differ
 * @source relaxation induced neighbourhoods (Danna, Rothberg, Le Pape 2005, Mathematical Programming 102)
 */
export function nearWhatStands(beside: number) {
  return (reach: Reach, turn: Turn, stands: readonly Placed[]): Nearly => {
    const { linear, columns, goals } = reach.program;
    const start = columnsOf(columns, stands);
    const fixed = countsBuilds(reach) ? kindsAsIn(reach.program, start) : new Map<number, number>();
    const relaxed = relax(reach, turn, 0, { fixed });
    if (!relaxed) return null;
    const agrees = (column: number) =>
      relaxed.isWhole(column) && Math.round(relaxed.value(column)) === (start.get(column) ?? 0);
    const alike = relaxed.numbers.filter(agrees).sort((a, b) => relaxed.costOf(a) - relaxed.costOf(b));
    const asked = { besides: turn.besides(0), fixed: relaxed.settle(alike.slice(beside)), start, gap: NEARLY };
    const found = linear.largest(goals[reach.aim], turn.seconds, asked);
    // What holds for a part of the choices holds for all of them only without whole numbers.
    return found && { ...found, bound: Number.POSITIVE_INFINITY };
  };
}
