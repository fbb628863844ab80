import { FACTS, type FactKey } from "~/core/device/fact";
import type { CurrentFacts } from "~/core/device/lookUp";
import { asClause } from "./clause";
import type { Model } from "./model";

/** What can be looked at to tell models apart; the first is the least trouble. */
const OBSERVATIONS: readonly { readonly fact: FactKey; readonly valuesOf: (model: Model) => readonly string[] }[] = [
  { fact: "model.number", valuesOf: (m) => m.modelNumbers },
  { fact: "screen.size", valuesOf: (m) => (m.screen ? [m.screen] : []) },
  { fact: "model.codename", valuesOf: (m) => [m.codename] },
  { fact: "model.board", valuesOf: (m) => [m.board] },
  { fact: "room.system", valuesOf: (m) => [String(m.room.system)] },
  { fact: "cpu.arch", valuesOf: (m) => [m.cpu] },
];

export interface Distinction {
  /** What to look at. */
  readonly fact: FactKey;
  readonly says: string;
  /** What each answer means. */
  readonly answers: readonly { readonly value: string; readonly models: readonly string[] }[];
  /** Whatever the answer is, one model is left. */
  readonly settles: boolean;
}

const low = (text: string) => text.trim().toLowerCase();

/**
 * The one observation that tells candidates apart best: worked out from what differs between them.
 *
 * An observation that leaves one model whatever it shows wins; among several such the one that is the least trouble. Where
 * none settles it, the one that separates most pairs.
 *
 * @param known facts that were observed already and did not settle it
 * @returns null when nothing that is recorded differs
 */
export function tellApart(candidates: readonly Model[], known: CurrentFacts): Distinction | null {
  let best: (Distinction & { readonly pairs: number }) | null = null;
  for (const { fact, valuesOf } of OBSERVATIONS) {
    if (known.has(fact)) continue;
    const values = candidates.map((m) => valuesOf(m).map(low));
    if (values.some((v) => v.length === 0)) continue;
    let pairs = 0;
    for (let a = 0; a < values.length; a++)
      for (let b = a + 1; b < values.length; b++) if (!values[a].some((v) => values[b].includes(v))) pairs++;
    if (pairs === 0) continue;
    const settles = pairs === (candidates.length * (candidates.length - 1)) / 2;
    if (best && (best.settles ? true : !settles && pairs <= best.pairs)) continue;
    best = { fact, settles, pairs, ...answersOf(fact, candidates, valuesOf) };
  }
  if (!best) return null;
  const { pairs: _, ...distinction } = best;
  return distinction;
}

function answersOf(
  fact: FactKey,
  candidates: readonly Model[],
  valuesOf: (model: Model) => readonly string[],
): Pick<Distinction, "says" | "answers"> {
  const by = new Map<string, string[]>();
  for (const model of candidates)
    for (const value of valuesOf(model)) by.set(value, [...(by.get(value) ?? []), model.id]);
  const answers = [...by].map(([value, models]) => ({ value, models }));
  const shared = fact === "model.number" ? sharedStart(answers.map((a) => a.value)) : "";
  const what = shared ? `the end of the model number ${shared}…` : asClause(FACTS[fact].says);
  const alike = new Map<string, string[]>();
  for (const { value, models } of answers) {
    const names = models.map((id) => nameOf(candidates, id)).join(" or ");
    alike.set(names, [...(alike.get(names) ?? []), value.slice(shared.length)]);
  }
  const each = [...alike].map(([names, values]) => `${values.join(" or ")}: ${names}`).join("; ");
  return { says: `Look at ${what} (${each})`, answers };
}

/** Maker, name and code name: two boards may share the first two. */
function nameOf(candidates: readonly Model[], id: string): string {
  const model = candidates.find((m) => m.id === id);
  return model ? `${model.maker} ${model.names[0]} (${model.codename})` : id;
}

/** What all model numbers begin with, up to the last dash or space: the rest is what to look at. */
function sharedStart(numbers: readonly string[]): string {
  let start = numbers[0] ?? "";
  for (const number of numbers) while (!number.startsWith(start)) start = start.slice(0, -1);
  return start.length >= 2 && numbers.every((n) => n.length > start.length) ? start : "";
}

/** Candidates that nothing observed speaks against. All of them when everything speaks against everybody. */
export function stillPossible(candidates: readonly Model[], facts: CurrentFacts): readonly Model[] {
  const fits = ({ fact, valuesOf }: (typeof OBSERVATIONS)[number], model: Model) => {
    const seen = facts.get(fact);
    const values = valuesOf(model);
    return !seen || values.length === 0 || values.map(low).includes(low(String(seen.value)));
  };
  // What fits none of them tells nothing: a name may stand where the number belongs.
  const telling = OBSERVATIONS.filter((observation) => candidates.some((model) => fits(observation, model)));
  const left = candidates.filter((model) => telling.every((observation) => fits(observation, model)));
  return left.length > 0 ? left : candidates;
}
