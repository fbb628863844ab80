import type { FactValue } from "~/core/device/fact";
import type { CurrentFacts } from "~/core/device/lookUp";
import { PLANNING_FACTS } from "./state";

export type Rests = Readonly<Record<string, FactValue | null>>;

/**
 * The facts an accepted way rests on, as they are now: kept with the decision, and held against what is known later.
 *
 * @example restsOn(new Map()) // {}
 */
export function restsOn(facts: CurrentFacts): Rests {
  const rests: Record<string, FactValue> = {};
  for (const key of PLANNING_FACTS) {
    const fact = facts.get(key);
    if (fact && !fact.contradictedBy) rests[key] = fact.value;
  }
  return rests;
}
