import type { Division } from "./divide";
import type { Option, Question } from "./question";
import { type Scores, type Share, scoresOf, sharesOf } from "./verdict";

/** A device goes from a group (null: from the reserve) to another one (null: into the reserve). */
export type Move = { readonly device: string; readonly to: string | null };

/**
 * The division after a move by hand, whatever it costs.
 *
 * @returns what is wrong in words, or the division
 * @example moved(question, division, { device: "TH-004", to: null }) // { placed: [], … }: TH-004 is in reserve
 */
export function moved(question: Question, division: Division, { device, to }: Move): Division | string {
  if (to === null) return placedBy(question, division, device, null);
  const group = question.groups.find(({ id }) => id === to);
  const options = question.candidates.find((candidate) => candidate.device === device)?.options ?? [];
  const [option] = options
    .filter((each) => each.group === to)
    .sort((a, b) => b.chance - a.chance || b.years - a.years || a.hands - b.hands);
  if (!group || !option) return `No way of ${device} serves them`;
  const others = division.placed.filter((each) => each.device !== device && each.option.group === to);
  if (others.length >= group.wanted + group.spares) return "They have all that they asked for: take one away first";
  return placedBy(question, division, device, option);
}

/** What a move by hand did away with. */
export type Undo = { readonly device: string; readonly option: Option | null; readonly finished: boolean };

/** What it takes to undo a move of a device in a division. */
export const undoOf = ({ placed, finished }: Division, device: string): Undo => ({
  device,
  option: placed.find((each) => each.device === device)?.option ?? null,
  finished,
});

/** The division as it was before the move that is undone. */
export const undone = (question: Question, division: Division, { device, option, finished }: Undo): Division => ({
  ...placedBy(question, division, device, option),
  finished,
});

/** The division with one device by another option; null: in the reserve. */
function placedBy(question: Question, division: Division, device: string, option: Option | null): Division {
  const rest = division.placed.filter((each) => each.device !== device);
  const placed = option ? [...rest, { device, option }] : rest;
  const scores = scoresOf(question, placed);
  return {
    ...division,
    placed,
    scores,
    shares: sharesOf(question, placed),
    proven: division.proven.map((each) => ({ ...each, value: scores[each.aim] })),
    finished: false,
  };
}

/**
 * What changes from one division to another, each as a sentence; empty when nothing does.
 *
 * @example difference({ shares: [], scores }, after, …) // []
 */
export function difference(
  before: { readonly shares: readonly Share[]; readonly scores: Scores },
  after: { readonly shares: readonly Share[]; readonly scores: Scores },
  nameOf: (group: string) => string,
): string[] {
  const says: string[] = [];
  for (const share of after.shares) {
    const was = before.shares.find(({ group }) => group === share.group);
    if (!was) continue;
    const [ready, then] = [was.expected, share.expected].map((count) => count.toFixed(1));
    if (ready !== then && Math.abs(share.expected - was.expected) >= 0.05)
      says.push(`${nameOf(share.group)}: ${ready} → ${then} ready on their day`);
    if (was.met && !share.met) says.push(`${nameOf(share.group)} no longer has its least number`);
    if (!was.met && share.met) says.push(`${nameOf(share.group)} has its least number now`);
  }
  const builds = before.scores.builds - after.scores.builds;
  if (builds !== 0)
    says.push(`${Math.abs(builds)} ${Math.abs(builds) === 1 ? "build" : "builds"} ${builds > 0 ? "more" : "fewer"}`);
  const hands = Math.round(before.scores.hands - after.scores.hands);
  if (hands !== 0) says.push(`${Math.abs(hands)} min by hand ${hands > 0 ? "more" : "less"}`);
  const years = after.scores.years - before.scores.years;
  if (Math.abs(years) >= 0.1) says.push(`${Math.abs(years).toFixed(1)} useful years ${years > 0 ? "more" : "fewer"}`);
  return says;
}
