import { WHOLE } from "./linear";
import { columnsOf, type Program } from "./program";
import type { Aim, Placed, Question } from "./question";
import type { askedRows } from "./tighten";

// A division where devices need not be whole: quick, what no division exceeds, and where whole numbers are looked for.

/** Where what is asked for is heuristic, what is found need be no better than by this part of it. */
export const NEARLY = 2e-3;
/** Seconds that proving may take in any case. */
const LEAST_PROOF = 0.3;
/** The same where nothing has to be whole: as a rule that takes a tenth of a second, and without it nothing is known. */
const LEAST_RELAXED = 3;

/** What is known when an aim is looked at. */
export type Reach = {
  readonly question: Question;
  readonly program: Program;
  readonly aim: Aim;
  readonly start: readonly Placed[];
  /** The aims before it that have a floor, in the order of their floors. */
  readonly held: readonly Aim[];
  /** Seconds that are left for this aim. */
  readonly seconds: () => number;
  /** By how much a division falls below each of these floors, in their order. */
  readonly lacks: (placed: readonly Placed[]) => readonly number[];
  /** By how much more than each of them is asked for where it may be fallen below, since what is found there usually does. */
  readonly margins: readonly number[];
  /** Takes what is enough and falls below no floor, where it is better. @returns the best that stands then */
  readonly take: (placed: readonly Placed[]) => readonly Placed[];
  /** Makes what is not enough into something that is, close by. @returns the best that stands then */
  readonly mend: (placed: readonly Placed[]) => readonly Placed[];
  /** What is proven beside; nothing said: nobody proves this aim. */
  readonly beside?: (() => number) | undefined;
};

export type Turn = {
  readonly seconds: number;
  /** Rows that hold beside the program's, kept clear of by so many devices. */
  readonly besides: (room: number) => ReturnType<typeof askedRows>;
};

export const isWhole = (value: number) => Math.abs(value - Math.round(value)) < WHOLE;

/** Builds count: they are what is aimed at, or what must not become more. */
export const countsBuilds = ({ held, aim }: Pick<Reach, "held" | "aim">): boolean =>
  aim === "builds" || held.includes("builds");

/** What no division exceeds, as far as it is known where nothing has to be whole; not a finite number: it took too long. */
export const boundInParts = (reach: Pick<Reach, "program" | "aim">): number =>
  inParts(reach)?.bound ?? Number.POSITIVE_INFINITY;

const inParts = ({ program: { linear, goals }, aim }: Pick<Reach, "program" | "aim">, seconds = 0) =>
  linear.largest(goals[aim], Math.max(LEAST_RELAXED, seconds), { relaxed: true });

/**
 * What no division exceeds: what comes out where devices need not be whole, unless they are asked to be. Who has enough is a
 * yes or no all the same, and so is a build: half a yes would take half of what it takes, and promise more than there is.
 *
 * @param start   what stands, where that is known
 * @param onBound told what is proven so far, whenever it comes closer
 */
export function boundOf(
  { program, aim, held }: Pick<Reach, "program" | "aim" | "held">,
  { seconds, start, onBound, enough, isWhole: areWhole = false }: Proving,
): number {
  const { linear, goals, columns } = program;
  const free = inParts({ program, aim }, seconds());
  if (!free) return Number.POSITIVE_INFINITY;
  let { bound } = free;
  onBound?.(bound);
  const answers = [...program.met.values(), ...(countsBuilds({ held, aim }) ? program.kinds.keys() : [])];
  if (enough && bound <= enough()) return bound;
  if (!areWhole && answers.every((column) => isWhole(free.values[column]))) return bound;
  const closer = (next: number) => {
    if (next < bound) onBound?.(next);
    bound = Math.min(bound, next);
  };
  const known = start ? { start: columnsOf(columns, start) } : {};
  const told = linear.largest(goals[aim], Math.max(LEAST_PROOF, seconds()), {
    ...(areWhole ? {} : { whole: new Set(answers) }),
    onBound: closer,
    enough,
    ...known,
  });
  if (told) closer(told.bound);
  return bound;
}

export type Proving = {
  readonly seconds: () => number;
  readonly start?: readonly Placed[];
  readonly onBound?: ((bound: number) => void) | undefined;
  /** What stands: nothing closer than that can be proven. */
  readonly enough?: (() => number) | undefined;
  /** Devices have to be whole too: closer, where there is time for it. */
  readonly isWhole?: boolean;
};

/** All floors, kept clear of by a part of a device: in whole numbers hardly anything is found right at them. */
export const clearOf = ({ question, program, held }: Reach, { besides }: Turn, room: number) => ({
  besides: [...besides(room), ...(room > 0 ? benchWithin(program, room) : [])],
  margins: held.map((floor) => room * worthOfOne(question, floor)),
});

/** What is settled beforehand, and what leads; nothing said: the aim itself. */
export type Settled = { readonly fixed?: ReadonlyMap<number, number>; readonly lead?: Aim };

/**
 * What comes out where devices need not be whole, clear of all floors by a part of a device. Who has enough is a yes or no all
 * the same, and where that is all that is aimed at, fair shares lead: else most of the division is left open. Null: nothing
 * comes out.
 */
export function relax(reach: Reach, turn: Turn, room: number, { fixed = new Map(), lead: led }: Settled = {}) {
  const { program, aim } = reach;
  const { seconds } = turn;
  const { linear, goals, columns, met } = program;
  const asked = { ...clearOf(reach, turn, room), fixed };
  const lead = led ?? (aim === "least" ? "fair" : aim);
  const first = aim === "least" ? goals.least : goals[lead];
  const answers = [...met.values()];
  const free = linear.largest(first, seconds, { ...asked, relaxed: true });
  const told =
    free && !answers.every((column) => isWhole(free.values[column]))
      ? linear.largest(first, seconds, { ...asked, whole: new Set(answers) })
      : free;
  if (!told) return null;
  const settled = new Map([...fixed, ...answers.map((column) => [column, Math.round(told.values[column])] as const)]);
  const isFound = told === free && first === goals[lead];
  const found = isFound ? free : linear.largest(goals[lead], seconds, { ...asked, relaxed: true, fixed: settled });
  if (!found) return null;
  const { values, columnCosts = [], floorCosts = [] } = found;
  return {
    lead,
    floorCosts,
    value: (column: number) => values[column],
    isWhole: (column: number) => isWhole(values[column]),
    /** What it would cost to have one more or one less than there. */
    costOf: (column: number) => Math.abs(columnCosts[column]),
    settle: (kept: readonly number[]) =>
      new Map([...settled, ...kept.map((column) => [column, Math.round(values[column])] as const)]),
    numbers: columns.map(({ column }) => column),
  };
}

/** The bench's minutes, less what a part of a device takes of them; turned round, since they must not be exceeded. */
const benchWithin = ({ bench }: Program, room: number) =>
  bench.flatMap(({ terms, minutes }) => {
    const one = terms.reduce((sum, [, takes]) => sum + takes, 0) / Math.max(1, terms.length);
    return minutes > one
      ? [{ terms: terms.map(([column, takes]) => [column, -takes] as const), low: room * one - minutes }]
      : [];
  });

/** How much of an aim one device is, about. */
function worthOfOne({ candidates, groups }: Question, aim: Aim): number {
  const options = candidates.flatMap((candidate) => candidate.options);
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  switch (aim) {
    case "fair":
      return Math.min(...groups.map(({ weight, wanted }) => weight / wanted));
    case "years":
      return mean(options.map(({ years, chance }) => years * chance));
    case "hands":
      return mean(options.map(({ hands }) => hands));
    default:
      return 0;
  }
}

export type Relaxed = NonNullable<ReturnType<typeof relax>>;
