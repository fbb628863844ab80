import { probit } from "simple-statistics";
import { cutBy } from "./enough";
import { chancesFor, type Program } from "./program";
import { type Group, type Option, type Placed, type Question, SLACK } from "./question";
import { shareOf } from "./verdict";

// A least number with a confidence is no linear thing. What the program takes as enough and is not is told, and forbidden.

/** Up to so many different chances in a group, choices are cut off exactly; beyond, there would be too many cuts. */
const MOST_LEVELS = 8;
/** Devices by which at least more is asked for. */
const RAISE = 0.1;
/** A number that hardly varies is taken to vary by this. */
const LEAST_VARIES = 0.3;

/** Groups that the model takes as having their least number, and that do not. */
export const shortOf = (
  { met }: Program,
  question: Question,
  { values }: { readonly values: ArrayLike<number> },
  placed: readonly Placed[],
) =>
  question.groups.filter(({ id }) => {
    const yes = met.get(id);
    return yes !== undefined && values[yes] > 0.5 && !shareOf(question, id, placed).met;
  });

/**
 * Where there are too many different chances for exact cuts, what a least number takes is asked for beforehand, by the normal
 * distribution: else most of what the solver finds would not be enough. How much the number varies is no linear thing; its
 * tangent at what varies now asks for a little more than is needed, never for less.
 */
export function askAhead({ asked }: Program, question: Question, stands: readonly Placed[]): void {
  for (const { id, least } of question.groups) {
    const levels = chancesFor(question, id);
    if (levels.length <= MOST_LEVELS) continue;
    const here = stands.flatMap(({ option }) => (option.group === id ? [option.chance] : []));
    const mean = levels.reduce((sum, level) => sum + level, 0) / levels.length;
    const varies = here.length >= least ? spreadOf(here) : Math.sqrt(least * (1 - mean));
    asked.set(id, { varies: Math.max(LEAST_VARIES, varies), more: asked.get(id)?.more ?? RAISE });
  }
}

/** Standard deviation of how many of several independent yes-or-no's come. */
const spreadOf = (chances: readonly number[]) =>
  Math.sqrt(chances.reduce((sum, chance) => sum + chance * (1 - chance), 0));

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

/** Asks a group for more than what was not enough. Quick, but it may forbid what is enough with less. */
function raise({ asked }: Program, { id, least }: Group, question: Question, placed: readonly Placed[]): void {
  const { expected } = shareOf(question, id, placed);
  const varies = spreadOf(placed.flatMap(({ option }) => (option.group === id ? [option.chance] : [])));
  const before = asked.get(id)?.more ?? 0;
  const takes = least - 0.5 + probit(question.confidence) * varies - expected;
  asked.set(id, { varies: Math.max(LEAST_VARIES, varies), more: before + Math.max(RAISE, takes / 2) });
}

/**
 * What is asked for beyond the model, as rows; what stands and is enough is never forbidden.
 *
 * @param room devices by which more is asked for than that
 */
export const askedRows = ({ asked, columns, met }: Program, question: Question, stands: readonly Placed[], room = 0) =>
  [...asked].map(([id, { varies, more }]) => {
    const { least } = question.groups.find((group) => group.id === id) as Group;
    const z = probit(question.confidence);
    const worth = ({ chance }: Option) => chance - (z * chance * (1 - chance)) / (2 * varies);
    const own = columns.filter(({ option }) => option.group === id);
    const here = stands.filter(({ option }) => option.group === id);
    const takes = least - 0.5 + (z * varies) / 2 + more;
    const low = shareOf(question, id, stands).met
      ? Math.min(takes, here.reduce((sum, { option }) => sum + worth(option), 0) - SLACK)
      : takes;
    return {
      terms: [
        ...own.map(({ column, option }) => [column, worth(option)] as const),
        [met.get(id) as number, -low - room] as const,
      ],
      low: 0,
    };
  });

/** Forbids what was not enough: exactly where that can be, else by asking for more. */
export function tighten(
  program: Program,
  question: Question,
  short: readonly Group[],
  placed: readonly Placed[],
): void {
  for (const group of short) {
    if (chancesFor(question, group.id).length <= MOST_LEVELS) cutOff(program, group, question, placed);
    else raise(program, group, question, placed);
  }
}
