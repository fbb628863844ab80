import { amongBuildsInUse } from "./buildsInUse";
import { fewBuilds } from "./fewBuilds";
import { GOOD, type Nearly, nearlyInCore, nearlyLargest, nearWhatStands } from "./nearly";
import { columnsOf, placedBy } from "./program";
import { type Placed, scaleOf } from "./question";
import { boundInParts, boundOf, countsBuilds, NEARLY, type Reach, type Turn } from "./relaxed";
import { askAhead, askedRows, shortOf, tighten } from "./tighten";
import { scoresOf } from "./verdict";

/** Part of an aim's time that goes into proving: of a small program; of a large one where builds count; of all else. */
const PROVE = { whole: 0.2, builds: 0.25, freely: 0.05 };
/** Devices by which more is asked for than a least number takes, where a whole device's room is kept. */
const ROOM_OF_ASKED = 0.3;
/** Of programs above this size only parts are looked at, never the whole. */
export const LARGE = 1000;
/** Programs up to this size are solved at once. */
const SMALL = 300;
/** What counts as nothing between a value and its bound. */
const NOTHING = 1e-6;

/** How good an aim can be: what stands was taken on the way. */
export type Reached = {
  readonly bound: number;
  /** What can't be exceeded with as much as was asked for; the bound itself holds without that. */
  readonly tight: number;
};

/** A way to look at a program, up to which part of an aim's time. */
type Step = {
  readonly look: (reach: Reach, turn: Turn, stands: readonly Placed[]) => Nearly;
  readonly until: number;
  /** It may fall below what was reached before: what counts is what mending makes of it. */
  readonly isRough?: true;
};

/** From quick to thorough; the next one is only tried where the one before did not come near to the bound. */
function stepsFor(reach: Reach): readonly Step[] {
  const { length: size } = reach.program.columns;
  const whole = { look: lookAtWhole, until: 1 };
  if (size <= SMALL) return [whole];
  const first = reach.aim === "builds" ? fewBuilds : countsBuilds(reach) ? nearWhatStands(0) : nearlyLargest;
  if (size <= LARGE) return [{ look: first, until: 0.2 }, { look: nearWhatStands(0), until: 0.4 }, whole];
  if (countsBuilds(reach))
    return [
      { look: first, until: reach.aim === "builds" ? 0.8 : 0.4 },
      { look: amongBuildsInUse, until: 1 },
    ];
  return [
    { look: first, until: 0.45 },
    { look: nearlyInCore, until: 0.75, isRough: true },
    { look: nearWhatStands(150), until: 1 },
  ];
}

/**
 * One aim as good as can be. What the model takes as enough and is not is cut off, and the aim is looked at again; nothing
 * that an aim before it reached is lost, since that was enough.
 */
export function reachAim(reach: Reach): Reached {
  const { question, program, aim, seconds, take, mend, beside = () => Number.POSITIVE_INFINITY } = reach;
  askAhead(program, question, reach.start);
  const all = seconds();
  const prove = all * partForProof(reach);
  let stands = reach.start;
  let value: number | null = null;
  let tight = Number.POSITIVE_INFINITY;
  for (const { look, until, isRough } of stepsFor(reach)) {
    const end = Math.max(prove, all * (1 - until));
    for (let enough = false; !enough && (value === null || seconds() > end); ) {
      const besides = (room: number) => askedRows(program, question, stands, room * ROOM_OF_ASKED);
      const found = look(reach, { besides, seconds: Math.max(0.1, seconds() - end) }, stands);
      tight = Math.min(tight, found?.bound ?? tight, beside());
      if (!found?.values) break;
      const placed = placedBy(program.columns, found.values);
      const short = shortOf(program, question, found, placed);
      enough = isRough || short.length === 0;
      stands = short.length > 0 || isRough ? mend(placed) : take(placed);
      value = isRough ? scoresOf(question, stands)[aim] : found.value;
      if (enough && tight - value <= GOOD * scaleOf(aim, value)) return proven(reach, stands, { value, tight });
      if (!isRough) tighten(program, question, short, placed);
    }
  }
  return proven(reach, stands, { value: value ?? Number.NEGATIVE_INFINITY, tight });
}

function partForProof(reach: Reach): number {
  const { columns, asked } = reach.program;
  if (reach.beside) return 0;
  if (columns.length <= SMALL) return asked.size > 0 ? PROVE.whole : 0;
  return countsBuilds(reach) ? PROVE.builds : PROVE.freely;
}

function lookAtWhole({ program, aim }: Reach, { seconds, besides }: Turn, stands: readonly Placed[]): Nearly {
  const start = columnsOf(program.columns, stands);
  const gap = program.asked.size > 0 ? NEARLY : 0;
  return program.linear.largest(program.goals[aim], seconds, { gap, start, besides: besides(0) });
}

/**
 * More was asked than is needed: what no division can exceed is proven without that. A small program is solved for it, and may
 * come out better; of a large one whole numbers are not asked for.
 */
function proven(
  reach: Reach,
  placed: readonly Placed[],
  { value, tight }: { readonly value: number; readonly tight: number },
): Reached {
  const { question, program, aim, seconds, take, beside } = reach;
  const { columns, goals, linear, asked } = program;
  const isSmall = columns.length <= SMALL;
  // Nothing was asked beyond what is needed: what was proven holds.
  if (asked.size === 0 && (isSmall ? Number.isFinite(tight) : tight - value <= NOTHING)) return { bound: tight, tight };
  if (!isSmall) {
    // What is asked for beyond what is needed binds nobody who proves beside: that may be closer.
    const free = beside ? Math.min(boundInParts(reach), beside()) : boundOf(reach, { seconds, start: placed });
    const bound = asked.size === 0 ? Math.min(tight, free) : free;
    return { bound, tight: Math.min(tight, bound) };
  }
  const free = linear.largest(goals[aim], Math.max(0.1, seconds()), { start: columnsOf(columns, placed) });
  // On a busy machine the time may be over before anything is proven.
  const bound = free && Number.isFinite(free.bound) ? free.bound : boundInParts(reach);
  if (!free) return { bound, tight };
  const freely = placedBy(columns, free.values);
  if (shortOf(program, question, free, freely).length > 0 || free.value <= value) return { bound, tight };
  take(freely);
  return { bound, tight: bound };
}
