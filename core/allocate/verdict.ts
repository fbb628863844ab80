import { atLeast } from "./confidence";
import type { Aim, Group, Placed, Question } from "./question";

/** What a group gets by a division. */
export type Share = {
  readonly group: string;
  readonly placed: number;
  /** Devices ready by its day, to be expected. */
  readonly expected: number;
  /** Chance that the least useful number is ready by its day; and all that were asked for. */
  readonly leastChance: number;
  readonly allChance: number;
  readonly met: boolean;
  /** Part of what was asked for that is missing on the day, to be expected: 0 to 1. */
  readonly short: number;
};

/** A division as a number per aim, turned so that more is better. */
export type Scores = Readonly<Record<Aim, number>>;

export const sharesOf = (question: Question, placed: readonly Placed[]): Share[] =>
  question.groups.map(({ id }) => shareOf(question, id, placed));

/** What one group gets. */
export function shareOf({ groups, confidence }: Question, id: string, placed: readonly Placed[]): Share {
  const { wanted, least } = groups.find((group) => group.id === id) as Group;
  const chances = placed.filter(({ option }) => option.group === id).map(({ option }) => option.chance);
  const expected = chances.reduce((sum, chance) => sum + chance, 0);
  const leastChance = atLeast(chances, least);
  return {
    group: id,
    placed: chances.length,
    expected,
    leastChance,
    allChance: atLeast(chances, wanted),
    met: leastChance >= confidence - 1e-9,
    short: Math.max(0, 1 - expected / wanted),
  };
}

/** Judges a division by every aim, whoever made it. */
export function scoresOf(question: Question, placed: readonly Placed[]): Scores {
  const shares = sharesOf(question, placed);
  const weights = new Map(question.groups.map(({ id, weight }) => [id, weight]));
  const { builds, models } = kindsOf(question, placed);
  const weightOf = (group: string) => weights.get(group) ?? 1;
  return {
    least: shares.reduce((sum, { met, group }) => sum + (met ? weightOf(group) : 0), 0),
    // The largest shortfall first; among equals, the sum of all (far below a device's worth of the first).
    fair: -Math.max(0, ...shares.map(({ short, group }) => short * weightOf(group))) - FAIR_SUM * sumShort(shares),
    years: placed.reduce((sum, { option }) => sum + option.years * option.chance, 0),
    builds: -(builds + models),
    hands: -placed.reduce((sum, { option }) => sum + option.hands, 0),
  };
}

/** What *few builds* counts: builds in use, and models for each group that wants alike devices (one each at best). */
export function kindsOf({ groups }: Pick<Question, "groups">, placed: readonly Placed[]) {
  const alike = new Set(groups.filter((group) => group.alike).map(({ id }) => id));
  const wantingOne = placed.filter(({ option }) => alike.has(option.group));
  return {
    builds: new Set(placed.map(({ option }) => option.build)).size,
    models: new Set(wantingOne.map(({ option }) => `${option.group}|${option.model}`)).size,
  };
}

/** How much the sum of all shortfalls counts beside the largest one. */
export const FAIR_SUM = 0.01;
const sumShort = (shares: readonly Share[]) => shares.reduce((sum, { short }) => sum + short, 0);

/** Below 0 when the first is worse, in the order of the aims; what only the computer's rounding makes is no difference. */
export function compareScores(aims: readonly Aim[], one: Scores, other: Scores): number {
  for (const aim of aims) {
    const difference = one[aim] - other[aim];
    if (Math.abs(difference) > 1e-5 * Math.max(1, Math.abs(other[aim]))) return difference;
  }
  return 0;
}
