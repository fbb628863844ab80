import { classesOf, type DeviceClass } from "./classes";
import { fewest, levelsOf } from "./enough";
import type { Linear } from "./linear";
import { type Aim, type Group, type Option, type Pin, type Placed, type Question, sameOption, takes } from "./question";
import { FAIR_SUM } from "./verdict";

/** How many devices of a class go one way. */
export type Column = { readonly column: number; readonly of: DeviceClass; readonly option: Option };
/** What a sum of minutes must not exceed. */
export type BenchRow = { readonly terms: Goal; readonly minutes: number };
/** The division as a linear program. */
export type Program = {
  readonly linear: Linear;
  readonly columns: readonly Column[];
  readonly goals: Record<Aim, Goal>;
  readonly bench: readonly BenchRow[];
  /** The yes or no of every group: its least number is met. */
  readonly met: ReadonlyMap<string, number>;
  /** The yes or no of every build, and of every model for those who want one only, with what makes it a yes. */
  readonly kinds: ReadonlyMap<number, readonly number[]>;
  /** What a group is asked for beyond the model's own to count as met: how much its number is taken to vary, and how much more. */
  readonly asked: Map<string, { readonly varies: number; readonly more: number }>;
};

/** @param pins those that can be kept */
export function programOf(question: Question, pins: readonly Pin[], linear: Linear): Program {
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
  const bench = benchRows(columns, question);
  for (const { terms, minutes } of bench) linear.atMost(terms, minutes);
  const met = new Map<string, number>();
  const kinds = new Map<number, number[]>();
  return {
    linear,
    columns,
    bench,
    met,
    kinds,
    asked: new Map(),
    goals: goalsOf(linear, columns, question, { met, kinds }),
  };
}

/** A division as numbers per class, to begin with. */
export function columnsOf(columns: readonly Column[], placed: readonly Placed[]): ReadonlyMap<number, number> {
  const optionOf = new Map(placed.map(({ device, option }) => [device, option]));
  return new Map(
    columns.map(({ column, of, option }) => [
      column,
      of.devices.filter((device) => sameOption(optionOf.get(device), option)).length,
    ]),
  );
}

/** Every yes or no of a build or model as numbers per class have it: 1 where any of its own is used. */
export const kindsAsIn = ({ kinds }: Program, counts: ReadonlyMap<number, number>): Map<number, number> =>
  new Map([...kinds].map(([kind, own]) => [kind, own.some((column) => (counts.get(column) ?? 0) > 0) ? 1 : 0]));

/** Numbers per class become devices, in the order in which they came. */
export function placedBy(columns: readonly Column[], values: ArrayLike<number>): Placed[] {
  const used = new Map<DeviceClass, number>();
  return columns.flatMap(({ column, of, option }) => {
    const from = used.get(of) ?? 0;
    const count = Math.round(values[column]);
    used.set(of, from + count);
    return of.devices.slice(from, from + count).map((device) => ({ device, option }));
  });
}

/** All that is due by a day has to fit into the bench's minutes until that day. */
function benchRows(columns: readonly Column[], { bench, groups }: Question): BenchRow[] {
  const dueBy = new Map(groups.map(({ id, by }) => [id, by]));
  return bench.map((time) => {
    const own = columns.filter(
      ({ option }) => (dueBy.get(option.group) as string) <= time.day && takes(option, time) > 0,
    );
    return { terms: own.map(({ column, option }) => [column, takes(option, time)]), minutes: time.minutes };
  });
}

/** A sum to be made as large as can be. */
export type Goal = readonly (readonly [number, number])[];

/** Every aim as a sum to be made as large as can be, with the numbers that it needs. */
function goalsOf(
  linear: Linear,
  columns: readonly Column[],
  question: Question,
  { met, kinds }: { readonly met: Map<string, number>; readonly kinds: Map<number, number[]> },
): Record<Aim, Goal> {
  const least: [number, number][] = [];
  const largest = linear.number(0, Number.POSITIVE_INFINITY, false);
  const fair: [number, number][] = [[largest, -1]];
  for (const group of question.groups) {
    const own = columns.filter(({ option }) => option.group === group.id);
    const count: Goal = own.map(({ column }) => [column, 1]);
    const ready: Goal = own.map(({ column, option }) => [column, option.chance]);
    linear.atMost(count, mostFor(group));
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
    if (group.alike) keepKinds(linear, own, question.groups, ({ option }) => option.model, kinds);
  }
  keepKinds(linear, columns, question.groups, ({ option }) => option.build, kinds);
  return {
    least,
    fair,
    builds: [...kinds.keys()].map((used) => [used, -1]),
    years: columns.map(({ column, option }) => [column, option.years * option.chance]),
    hands: columns.map(({ column, option }) => [column, -option.hands]),
  };
}

/** More devices than this a group does not get. */
const mostFor = ({ wanted, spares }: Group) => wanted + spares;

/** A yes or no: the group's least number is met. Yes needs as many as it takes at least. */
function enoughFor(linear: Linear, own: readonly Column[], group: Group, question: Question): number {
  const { id, least } = group;
  const levels = chancesFor(question, id);
  const count = levels.length ? fewest(levels[0], least, question.confidence, mostFor(group)) : null;
  const yes = linear.number(0, count === null ? 0 : 1);
  linear.atLeast([...own.map(({ column }) => [column, 1] as const), [yes, -(count ?? 0)]], 0);
  linear.atLeast(likelyRow(own, yes, least, question.confidence), 0);
  return yes;
}

/**
 * What is there with a confidence *c* is about that on average: *μ + k·σ ≥ least*, with k = √((1 − c) / c). The root of what
 * varies lies below each of its tangents; the one is taken that touches it where the group's chances would have it.
 *
 * @source Cantelli's inequality (one-sided Chebyshev)
 */
function likelyRow(own: readonly Column[], yes: number, least: number, confidence: number): Goal {
  const k = Math.sqrt((1 - confidence) / confidence);
  const mean = own.reduce((sum, { option }) => sum + option.chance, 0) / Math.max(1, own.length);
  const sigma = Math.sqrt(Math.max(LEAST_VARIANCE, least * (1 - mean)));
  const worth = ({ chance }: Option) => chance + (k * chance * (1 - chance)) / (2 * sigma);
  return [...own.map(({ column, option }) => [column, worth(option)] as const), [yes, (k * sigma) / 2 - least]];
}

/** What hardly varies is taken to vary by this. */
const LEAST_VARIANCE = 0.1;

/**
 * A yes or no for each kind that occurs: as soon as one of the columns is used, it is yes and costs one. Two sums say more
 * without whole numbers than each column alone. A device goes one way only: all columns of a class that are of one kind are
 * asked together. And a group takes no more than it wants: of a kind of forty devices, the eight that it takes need all of a
 * yes, not a fifth.
 *
 * @source the strong formulation of facility location (Balinski 1965, Management Science 12), with demands that are bounded
 */
function keepKinds(
  linear: Linear,
  columns: readonly Column[],
  groups: readonly Group[],
  kindOf: (column: Column) => string,
  kinds: Map<number, number[]>,
): void {
  for (const kind of new Set(columns.map(kindOf))) {
    const own = columns.filter((column) => kindOf(column) === kind);
    const used = linear.number(0, 1);
    kinds.set(
      used,
      own.map(({ column }) => column),
    );
    const needs = (some: readonly Column[], most: number) =>
      linear.atMost([...some.map(({ column }) => [column, 1] as const), [used, -most]], 0);
    for (const each of new Set(own.map(({ of }) => of)))
      needs(
        own.filter(({ of }) => of === each),
        each.devices.length,
      );
    for (const group of groups) {
      const some = own.filter(({ option }) => option.group === group.id);
      if (devicesOf(some) > mostFor(group)) needs(some, mostFor(group));
    }
  }
}

const devicesOf = (columns: readonly Column[]): number =>
  [...new Set(columns.map(({ of }) => of))].reduce((sum, { devices }) => sum + devices.length, 0);

/** Every different chance with which devices are ready for a group. */
export const chancesFor = ({ candidates }: Question, group: string) =>
  levelsOf(candidates.flatMap(({ options }) => options.flatMap((o) => (o.group === group ? [o.chance] : []))));
