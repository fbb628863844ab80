import type { Highs } from "highs";
import { probit } from "simple-statistics";
import { classesOf, type DeviceClass } from "./classes";
import { cutBy, fewest, levelsOf } from "./enough";
import { greedy } from "./greedy";
import { type Found, Linear } from "./linear";
import { type Floors, polish } from "./polish";
import { type Aim, type Group, type Option, type Pin, type Placed, type Question, sameOption } from "./question";
import { compareScores, FAIR_SUM, type Scores, type Share, scoresOf, shareOf, sharesOf } from "./verdict";

/** A division with how good it is, and how good any could be. */
export type Division = {
  readonly placed: readonly Placed[];
  readonly shares: readonly Share[];
  readonly scores: Scores;
  /** Per aim, what was reached and what the solver proved can't be exceeded, given the aims before it. */
  readonly proven: readonly { readonly aim: Aim; readonly value: number; readonly bound: number }[];
  /** All aims were solved to their end. */
  readonly finished: boolean;
  /** Pins that could not be kept, in words. */
  readonly problems: readonly string[];
};

export type Limits = {
  readonly highs: Highs;
  readonly milliseconds: number;
  readonly now: () => number;
  /** Each better division as it is found. */
  readonly onBetter?: (division: Division) => void;
};

/** An aim that was reached may be missed by this when the next one is looked at: what a computer can't tell apart. */
const SLACK = 1e-6;

/**
 * Divides devices among waiting groups: the aims in their order, each as good as can be without losing anything of those
 * before it (mixed-integer programming). The chance that a least number is met is no linear thing: it is checked exactly
 * afterwards, and a choice that is not enough is cut off (enough.ts), until what the model takes as met is met. With few
 * different chances nothing that is enough is ever cut off, and what comes out is the best there is; see MOST_LEVELS.
 *
 * @source lexicographic goal programming; Poisson-binomial chance (confidence.ts)
 */
export function divide(question: Question, { highs, milliseconds, now, onBetter }: Limits): Division {
  const until = now() + milliseconds;
  const { kept, problems } = keptPins(question);
  let best = told(question, greedy(question), [], problems);
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
    onBetter?.(best);
  };
  for (const [k, aim] of question.aims.entries()) {
    const goal = program.goals[aim];
    if (goal.length === 0) continue;
    // What counts first gets most of the time that is left; an aim that is quick leaves the others more.
    const begun = now();
    const turn = k === question.aims.length - 1 ? until : begun + (until - begun) * SHARE;
    const quick = begun + (turn - begun) / 3;
    // Minutes that nothing needs are freed first: what is full to the last one can hardly be changed.
    const freeing = begun + (turn - begun) / 16;
    const freed = question.bench.length
      ? polish(
          question,
          best.placed,
          "hands",
          { ...floors, [aim]: best.scores[aim] },
          { seed: k + 1, pinned, goOn: () => now() < freeing },
        )
      : best.placed;
    const ahead = polish(question, freed, aim, floors, { seed: k + 1, pinned, goOn: () => now() < quick });
    take(ahead, k);
    const reached = reachAim(question, program, goal, best.placed, () => (turn - now()) / 1000);
    if (reached) take(reached.placed, k);
    const value = best.scores[aim];
    proven.push({ aim, value, bound: Math.max(value, reached?.bound ?? Number.POSITIVE_INFINITY) });
    floors[aim] = value - SLACK - question.leeway * Math.abs(value);
    program.linear.atLeast(goal, floors[aim] as number);
  }
  return withProof(best, proven);
}

/** What is reached in the end is held against what was proven on the way. */
function withProof(division: Division, proven: readonly Proof[]): Division {
  const last = proven.map(({ aim, bound }) => ({ aim, value: division.scores[aim], bound }));
  const finished = last.every(({ value, bound }) => bound - value <= 1e-4 * Math.max(1, Math.abs(value)));
  return { ...division, proven: last, finished };
}

/** Up to so many different chances in a group, choices are cut off exactly; beyond, there would be too many cuts. */
const MOST_LEVELS = 8;
const RAISE = 0.05;
/** Part of an aim's time that goes into proving, where more was asked than is needed. */
const FIND = 0.35;
/** Part of what time is left that one aim may take. */
const SHARE = 0.4;

type Proof = Division["proven"][number];

/**
 * One aim as good as can be. What the model takes as enough and is not is cut off, and the aim is looked at again; nothing
 * that an aim before it reached is lost, since that was enough.
 */
function reachAim(
  question: Question,
  program: Program,
  goal: Goal,
  start: readonly Placed[],
  seconds: () => number,
): Reached | null {
  const { asked } = program;
  askAhead(program, question, start);
  const half = asked.size > 0 ? seconds() * FIND : 0;
  let reached: Reached | null = null;
  for (;;) {
    const found = program.linear.largest(goal, Math.max(0.1, seconds() - half), {
      start: columnsOf(program.columns, start),
      besides: askedRows(program, question, start),
    });
    if (!found) break;
    const placed = placedBy(program.columns, found.values);
    const short = shortOf(program, question, found, placed);
    reached = { ...found, placed, enough: short.length === 0 };
    if (reached.enough || seconds() <= half) break;
    for (const group of short) {
      if (chancesFor(question, group.id).length <= MOST_LEVELS || !raise(program, group, question, placed, start))
        cutOff(program, group, question, placed);
    }
  }
  if (asked.size === 0) return reached;
  // More was asked than is needed: what no division can exceed is proven without that.
  const free = program.linear.largest(goal, Math.max(0.1, seconds()), { start: columnsOf(program.columns, start) });
  if (!free) return reached && { ...reached, bound: Number.POSITIVE_INFINITY };
  const placed = placedBy(program.columns, free.values);
  if (shortOf(program, question, free, placed).length === 0 && (!reached || free.value > reached.value))
    return { ...free, placed, enough: true };
  return reached && { ...reached, bound: free.bound };
}

type Reached = Found & { readonly placed: readonly Placed[]; readonly enough: boolean };

/** Groups that the model takes as having their least number, and that do not. */
const shortOf = ({ met }: Program, question: Question, { values }: Found, placed: readonly Placed[]) =>
  question.groups.filter(({ id }) => {
    const yes = met.get(id);
    return yes !== undefined && values[yes] > 0.5 && !shareOf(question, id, placed).met;
  });

/**
 * Where there are too many different chances for exact cuts, what a least number takes on average is asked for beforehand, by
 * the normal distribution: else most of what the solver finds would not be enough.
 */
function askAhead({ asked }: Program, question: Question, stands: readonly Placed[]): void {
  for (const { id, least } of question.groups) {
    const levels = chancesFor(question, id);
    if (levels.length <= MOST_LEVELS || asked.has(id)) continue;
    const here = stands.flatMap(({ option }) => (option.group === id ? [option.chance] : []));
    const mean = levels.reduce((sum, level) => sum + level, 0) / levels.length;
    const varies = here.length >= least ? spreadOf(here) : Math.sqrt((least / mean) * mean * (1 - mean));
    asked.set(id, Math.min(least - 0.5 + probit(question.confidence) * varies, mostAsked(question, id, stands)));
  }
}

/** Standard deviation of how many of several independent yes-or-no's come. */
const spreadOf = (chances: readonly number[]) =>
  Math.sqrt(chances.reduce((sum, chance) => sum + chance * (1 - chance), 0));

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

/** Cuts off what was chosen for a group: whatever is enough has more than this somewhere. */
function cutOff({ linear, columns, met }: Program, group: Group, question: Question, placed: readonly Placed[]): void {
  const { id, least, wanted, spares } = group;
  const levels = chancesFor(question, id);
  const counts = levels.map(
    (level) => placed.filter(({ option }) => option.group === id && option.chance === level).length,
  );
  const cut = cutBy(levels, counts, { least, confidence: question.confidence, most: wanted + spares });
  const more = levels.map((level, j) => {
    const here = linear.number(0, 1);
    const upTo = columns.filter(({ option }) => option.group === id && option.chance >= level);
    linear.atLeast([...upTo.map(({ column }) => [column, 1] as const), [here, -cut[j]]], 0);
    return [here, 1] as const;
  });
  linear.atLeast([...more, [met.get(id) as number, -1]], 0);
}

/**
 * Asks for more than what was not enough, on average: most of the way to what the normal distribution says it takes. Quick,
 * but it may forbid what is enough with less; never what is enough already, in the division that stands.
 *
 * @returns false when that leaves nothing to ask for
 */
function raise(
  { asked }: Program,
  { id, least }: Group,
  question: Question,
  placed: readonly Placed[],
  stands: readonly Placed[],
): boolean {
  const { expected } = shareOf(question, id, placed);
  const chances = placed.flatMap(({ option }) => (option.group === id ? [option.chance] : []));
  const takes = least - 0.5 + probit(question.confidence) * spreadOf(chances);
  const more = Math.min(expected + Math.max(RAISE, 0.8 * (takes - expected)), mostAsked(question, id, stands));
  if (more <= expected) return false;
  asked.set(id, more);
  return true;
}

/** What stands and is enough is never forbidden. */
function mostAsked(question: Question, group: string, stands: readonly Placed[]): number {
  const { met, expected } = shareOf(question, group, stands);
  return met ? expected - SLACK : Number.POSITIVE_INFINITY;
}

/** What is asked for beyond the model, as rows. */
const askedRows = ({ asked, columns, met }: Program, question: Question, stands: readonly Placed[]) =>
  [...asked].map(([id, more]) => {
    const ready = columns.flatMap(({ column, option }) =>
      option.group === id ? [[column, option.chance] as const] : [],
    );
    const least = Math.min(more, mostAsked(question, id, stands));
    return { terms: [...ready, [met.get(id) as number, -least] as const], low: 0 };
  });

const chancesFor = ({ candidates }: Question, group: string) =>
  levelsOf(candidates.flatMap(({ options }) => options.flatMap((o) => (o.group === group ? [o.chance] : []))));

type Column = { readonly column: number; readonly of: DeviceClass; readonly option: Option };
/** The division as a linear program. */
type Program = {
  readonly linear: Linear;
  readonly columns: readonly Column[];
  readonly goals: Record<Aim, Goal>;
  /** The yes or no of every group: its least number is met. */
  readonly met: ReadonlyMap<string, number>;
  /** Devices ready on average that a group is asked to have to count as met, where more than the model's own is asked. */
  readonly asked: Map<string, number>;
};

function programOf(question: Question, pins: readonly Pin[], linear: Linear): Program {
  const classes = classesOf(question);
  const columns: Column[] = classes.flatMap((of) =>
    of.options.map((option) => ({ column: linear.number(0, of.devices.length), of, option })),
  );
  for (const each of classes)
    linear.atMost(
      columns.filter(({ of }) => of === each).map(({ column }) => [column, 1]),
      each.devices.length,
    );
  for (const { device, group } of pins)
    linear.atLeast(
      columns
        .filter(({ of, option }) => of.devices[0] === device && option.group === group)
        .map(({ column }) => [column, 1]),
      1,
    );
  keepBench(linear, columns, question);
  const met = new Map<string, number>();
  return { linear, columns, met, asked: new Map(), goals: goalsOf(linear, columns, question, met) };
}

/** A division as numbers per class, to begin with. */
function columnsOf(columns: readonly Column[], placed: readonly Placed[]): ReadonlyMap<number, number> {
  const optionOf = new Map(placed.map(({ device, option }) => [device, option]));
  return new Map(
    columns.map(({ column, of, option }) => [
      column,
      of.devices.filter((device) => sameOption(optionOf.get(device), option)).length,
    ]),
  );
}

/** Numbers per class become devices, in the order in which they came. */
function placedBy(columns: readonly Column[], values: ArrayLike<number>): Placed[] {
  const used = new Map<DeviceClass, number>();
  return columns.flatMap(({ column, of, option }) => {
    const from = used.get(of) ?? 0;
    const count = Math.round(values[column]);
    used.set(of, from + count);
    return of.devices.slice(from, from + count).map((device) => ({ device, option }));
  });
}

/** All that is due by a day has to fit into the bench's minutes until that day. */
function keepBench(linear: Linear, columns: readonly Column[], { bench, groups }: Question): void {
  const dueBy = new Map(groups.map(({ id, by }) => [id, by]));
  for (const { day, minutes } of bench)
    linear.atMost(
      columns
        .filter(({ option }) => (dueBy.get(option.group) as string) <= day)
        .map(({ column, option }) => [column, option.hands]),
      minutes,
    );
}

type Goal = readonly (readonly [number, number])[];

/** Every aim as a sum to be made as large as can be, with the numbers that it needs. */
function goalsOf(
  linear: Linear,
  columns: readonly Column[],
  question: Question,
  met: Map<string, number>,
): Record<Aim, Goal> {
  const least: [number, number][] = [];
  const largest = linear.number(0, Number.POSITIVE_INFINITY, false);
  const fair: [number, number][] = [[largest, -1]];
  const builds: (readonly [number, number])[] = [];
  for (const group of question.groups) {
    const own = columns.filter(({ option }) => option.group === group.id);
    const count: Goal = own.map(({ column }) => [column, 1]);
    const ready: Goal = own.map(({ column, option }) => [column, option.chance]);
    linear.atMost(count, group.wanted + group.spares);
    const yes = enoughFor(linear, own, group, question);
    met.set(group.id, yes);
    least.push([yes, group.weight]);
    const short = linear.number(0, 1, false);
    linear.atLeast([[short, 1], ...ready.map(([column, chance]) => [column, chance / group.wanted] as const)], 1);
    linear.atLeast(
      [
        [largest, 1],
        [short, -group.weight],
      ],
      0,
    );
    fair.push([short, -FAIR_SUM]);
    if (group.alike) builds.push(...kindsIn(linear, own, ({ option }) => option.model));
  }
  builds.push(...kindsIn(linear, columns, ({ option }) => option.build));
  return {
    least,
    fair,
    builds,
    years: columns.map(({ column, option }) => [column, option.years * option.chance]),
    hands: columns.map(({ column, option }) => [column, -option.hands]),
  };
}

/** A yes or no: the group's least number is met. Yes needs as many as it takes at least. */
function enoughFor(
  linear: Linear,
  own: readonly Column[],
  { id, least, wanted, spares }: Group,
  question: Question,
): number {
  const levels = chancesFor(question, id);
  const count = levels.length ? fewest(levels[0], least, question.confidence, wanted + spares) : null;
  const yes = linear.number(0, count === null ? 0 : 1);
  linear.atLeast([...own.map(({ column }) => [column, 1] as const), [yes, -(count ?? 0)]], 0);
  // Markov's inequality: what is there nine times in ten is also there on average, by nine tenths of it.
  const ready = own.map(({ column, option }) => [column, option.chance] as const);
  linear.atLeast([...ready, [yes, -least * question.confidence]], 0);
  return yes;
}

/** A yes or no for each kind that occurs: as soon as one of the columns is used, it is yes and costs one. */
function kindsIn(
  linear: Linear,
  columns: readonly Column[],
  kindOf: (column: Column) => string,
): (readonly [number, number])[] {
  const kinds = new Map<string, number>();
  for (const each of columns) {
    let used = kinds.get(kindOf(each));
    if (used === undefined) {
      used = linear.number(0, 1);
      kinds.set(kindOf(each), used);
    }
    linear.atMost(
      [
        [each.column, 1],
        [used, -each.of.devices.length],
      ],
      0,
    );
  }
  return [...kinds.values()].map((used) => [used, -1]);
}

/** Pins that can be kept, and in words those that can't: no way is open, or the group has its number by other pins. */
function keptPins({ candidates, groups, pins }: Question): {
  readonly kept: readonly Pin[];
  readonly problems: readonly string[];
} {
  const room = new Map(groups.map(({ id, wanted, spares }) => [id, wanted + spares]));
  const byDevice = new Map(candidates.map((candidate) => [candidate.device, candidate]));
  const kept: Pin[] = [];
  const problems: string[] = [];
  const placed = new Set<string>();
  for (const pin of pins) {
    const { device, group, kind } = pin;
    const left = room.get(group);
    if (kind !== "there" || left === undefined) continue;
    if (!byDevice.get(device)?.options.some((option) => option.group === group))
      problems.push(`${device} is pinned to a group for which no way of it is open`);
    else if (placed.has(device)) problems.push(`${device} is pinned to more than one group: the first counts`);
    else if (left === 0) problems.push(`${device} is pinned to a group that has its number by other pins`);
    else {
      kept.push(pin);
      placed.add(device);
      room.set(group, left - 1);
    }
  }
  return { kept, problems };
}
