import type { Found } from "./linear";
import {
  NEARLY,
  type Nearly,
  nearlyInCore,
  nearlyLargest,
  nearWhatStands,
  type Reach,
  type Turn,
  withoutWholes,
} from "./nearly";
import { columnsOf, placedBy } from "./program";
import { type Placed, scaleOf } from "./question";
import { askAhead, askedRows, shortOf, tighten } from "./tighten";
import { scoresOf } from "./verdict";

/** Part of an aim's time that goes into proving, where more was asked than is needed. */
const PROVE = 0.2;
/** Part of it that may go into what is found quickly. */
const QUICK = 0.5;
/** What was found quickly and is this near its bound is good enough: the aims behind it get the time. */
const GOOD = 0.01;
/** Of programs above this size only parts are looked at, never the whole: their core, then what is near the division that stands. */
const LARGE = 1000;
/** Seconds below which looking near what stands brings nothing. */
const WORTH = 0.4;
/** Programs up to this size are solved at once. */
const SMALL = 300;

export type Reached = Found & {
  readonly placed: readonly Placed[];
  readonly enough: boolean;
  /** What can't be exceeded with as much as was asked for; the bound itself holds without that. */
  readonly tight: number;
};

/**
 * One aim as good as can be. What the model takes as enough and is not is cut off, and the aim is looked at again; nothing
 * that an aim before it reached is lost, since that was enough.
 */
export function reachAim(reach: Reach): Reached | null {
  const { question, program, aim, seconds, mend } = reach;
  askAhead(program, question, reach.start);
  const all = seconds();
  const prove = program.asked.size > 0 ? all * PROVE : 0;
  let stands = reach.start;
  let reached: Reached | null = null;
  let tight = Number.POSITIVE_INFINITY;
  const { length: size } = program.columns;
  const isLarge = size > LARGE;
  for (let whole = size <= SMALL; ; ) {
    const besides = askedRows(program, question, stands);
    const turn = { besides, seconds: Math.max(0.1, seconds() - (whole ? prove : all * (1 - QUICK))) };
    const isCore = !whole && isLarge;
    const found = look(reach, stands, { turn, whole, isLarge, gap: prove > 0 ? NEARLY : 0 });
    tight = Math.min(tight, found?.bound ?? tight);
    if (!found?.values && whole) break;
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
    // What was found quickly and is enough is a good beginning for the whole program, or for what is near it.
    whole ||= !found?.values || reached?.enough === true || seconds() <= all * (1 - QUICK);
  }
  return prove > 0 ? provenFreely(reach, stands, reached) : reached;
}

/** Looks once: quickly at a part first, then at the whole; of a large program near what stands instead. */
function look(
  reach: Reach,
  stands: readonly Placed[],
  { turn, whole, isLarge, gap }: { turn: Turn; whole: boolean; isLarge: boolean; gap: number },
): Nearly {
  const { linear, columns, goals } = reach.program;
  if (isLarge) return whole ? nearWhatStands(reach, stands, turn) : nearlyInCore(reach, turn);
  if (!whole) return nearlyLargest(reach, stands, turn);
  return linear.largest(goals[reach.aim], turn.seconds, {
    gap,
    start: columnsOf(columns, stands),
    besides: turn.besides,
  });
}

/**
 * More was asked than is needed: what no division can exceed is proven without that. A small program is solved for it, and may
 * come out better; of a large one whole numbers are not asked for.
 */
function provenFreely({ question, program, aim, seconds }: Reach, stands: readonly Placed[], reached: Reached | null) {
  const unproven = reached && { ...reached, bound: Number.POSITIVE_INFINITY };
  if (program.columns.length > SMALL) {
    const free = withoutWholes(program, aim, { seconds: Math.max(0.3, seconds()), besides: [] });
    return free && reached ? { ...reached, bound: free.bound } : unproven;
  }
  const start = columnsOf(program.columns, stands);
  const free = program.linear.largest(program.goals[aim], Math.max(0.1, seconds()), { start });
  if (!free) return unproven;
  const placed = placedBy(program.columns, free.values);
  const enough = shortOf(program, question, free, placed).length === 0;
  return enough && (!reached || free.value > reached.value)
    ? { ...free, placed, enough, tight: free.bound }
    : reached && { ...reached, bound: free.bound };
}
