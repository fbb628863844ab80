import type { FactKey } from "~/core/device/fact";
import type { CurrentFacts } from "~/core/device/lookUp";
import { currentValue } from "~/core/device/lookUp";
import type { Model } from "./model";
import { type Distinction, stillPossible, tellApart } from "./tellApart";

export type Identity =
  | { readonly kind: "one"; readonly model: Model; readonly by: FactKey }
  | {
      readonly kind: "several";
      readonly candidates: readonly Model[];
      readonly by: FactKey;
      readonly ask: FactKey;
      /** What to look at, and what each answer means; null when nothing that is recorded differs. */
      readonly distinction: Distinction | null;
    }
  | { readonly kind: "none"; readonly ask: FactKey }
  | { readonly kind: "contradiction"; readonly says: string; readonly ask: FactKey };

const same = (a: string | undefined, b: string) => a !== undefined && a.trim().toLowerCase() === b.toLowerCase();

const TESTS: readonly { readonly key: FactKey; readonly fits: (model: Model, value: string) => boolean }[] = [
  { key: "model.codename", fits: (m, v) => same(v, m.codename) },
  { key: "model.board", fits: (m, v) => same(v, m.board) },
  { key: "model.number", fits: (m, v) => m.modelNumbers.some((n) => same(v, n)) },
  { key: "model.name", fits: (m, v) => m.names.some((n) => same(v, n) || same(v, `${m.maker} ${n}`)) },
];

/**
 * Which model record a device belongs to, from what is known of it.
 *
 * Code name, board and model number each decide alone, and must not contradict one another. The market name decides only
 * when no two boards share it: otherwise the model number is asked for. A name that was written down as a number counts as a
 * name, and the other way round: lists have one column for both.
 *
 * @example identify([], new Map()).kind // "none"
 */
export function identify(models: readonly Model[], facts: CurrentFacts): Identity {
  let found: { model: Model; by: FactKey } | null = null;
  for (const { key, fits } of TESTS.slice(0, 3)) {
    const value = currentValue(facts, key) ?? (key === "model.number" ? currentValue(facts, "model.name") : undefined);
    if (typeof value !== "string") continue;
    const matching = models.filter((m) => fits(m, value));
    if (matching.length === 0) continue;
    if (matching.length > 1) {
      if (found && matching.includes(found.model)) continue;
      if (!found) return narrowed(matching, facts, key);
    }
    if (found && !matching.includes(found.model)) {
      return {
        kind: "contradiction",
        says: `The ${key.replace("model.", "")} “${value}” belongs to ${matching[0].id}, but the ${found.by.replace("model.", "")} to ${found.model.id}`,
        ask: "model.codename",
      };
    }
    found ??= { model: matching[0], by: key };
  }
  if (found) return { kind: "one", ...found };
  const name = currentValue(facts, "model.name") ?? currentValue(facts, "model.number");
  if (name === undefined) return { kind: "none", ask: "model.number" };
  const named = models.filter((m) => TESTS[3].fits(m, name));
  if (named.length === 1) return { kind: "one", model: named[0], by: "model.name" };
  return named.length ? narrowed(named, facts, "model.name") : { kind: "none", ask: "model.number" };
}

/** Several share what is known: other facts may still leave one of them; else what would tell them apart is asked for. */
function narrowed(candidates: readonly Model[], facts: CurrentFacts, by: FactKey): Identity {
  const left = stillPossible(candidates, facts);
  if (left.length === 1) return { kind: "one", model: left[0], by };
  const distinction = tellApart(left, facts);
  return { kind: "several", candidates: left, by, ask: distinction?.fact ?? "model.number", distinction };
}
