import { asClause } from "~/core/catalogue/clause";
import { operationWords } from "~/core/ways/registry";
import type { Way } from "./way";

const percent = (share: number) => `${Math.round(share * 100)} %`;

/**
 * What a way's chance rests on, in words: the handbook's rates, and own runs where there were any.
 *
 * @example oddsText({ learned: [] }) // "rests on the handbook: no own run of these steps yet"
 */
export function oddsText(way: Pick<Way, "learned">): string {
  const told = way.learned.map((e) => {
    const count = e.here.of > 0 ? e.here : e.all;
    const where = e.here.of > 0 ? "here" : "of this kind elsewhere";
    const what = asClause(operationWords(e.kind));
    return `${what}: ${count.ok} of ${count.of} ${where}, between ${percent(e.low)} and ${percent(e.high)}`;
  });
  return told.length
    ? `rests on the handbook and on own runs: ${told.join("; ")}`
    : "rests on the handbook: no own run of these steps yet";
}
