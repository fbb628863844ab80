import type { z } from "zod";
import { CHANGING, type FACTS, type Fact, type FactKey, type FactValue } from "./fact";

/** What a fact's schema says its value is. */
export type ValueOf<K extends FactKey> = z.infer<(typeof FACTS)[K]["value"]>;

/** A fact that stands: it has a value. */
export type StandingFact = Fact & {
  readonly value: FactValue;
  /** A newer word of a person or a list that contradicts what was read: the device must be read again. */
  readonly contradictedBy?: Fact;
};

/** The current value of each key. */
export type CurrentFacts = ReadonlyMap<FactKey, StandingFact>;

type Newest = Partial<Record<Fact["source"], Fact>>;

/**
 * Which of the newest facts of each source stands.
 *
 * A reading stands until the device itself was changed: a bench step's promise made later takes its place, one made
 * before or at the same moment does not. A word of a person takes the place of an older promise, never of a reading: a newer one that differs
 * from the reading is a contradiction, unless the fact changes by itself as a battery does. Lists and model records count only where nothing else does.
 */
function standing(newest: Newest): { readonly fact: Fact; readonly contradictedBy?: Fact } | null {
  const { read, run, typed } = newest;
  const measured = read && (!run || read.at >= run.at) ? read : run;
  if (!measured) {
    const fact = typed ?? newest.import ?? newest["model-default"];
    return fact ? { fact } : null;
  }
  if (!typed || typed.at <= measured.at) return { fact: measured };
  if (measured.source === "run" || CHANGING.has(typed.key)) return { fact: typed };
  return typed.value === measured.value ? { fact: measured } : { fact: measured, contradictedBy: typed };
}

/**
 * Current facts out of the whole history.
 *
 * @param history facts in any order; of those with the same source and time the later in the list stands
 * @example currentFacts([read, typedLater, …]).get("android.release")?.contradictedBy // the typed one
 */
export function currentFacts(history: Iterable<Fact>): CurrentFacts {
  const byKey = new Map<FactKey, Newest>();
  for (const fact of history) {
    let newest = byKey.get(fact.key);
    if (!newest) {
      newest = {};
      byKey.set(fact.key, newest);
    }
    const before = newest[fact.source];
    if (!before || fact.at >= before.at) newest[fact.source] = fact;
  }
  const current = new Map<FactKey, StandingFact>();
  for (const [key, newest] of byKey) {
    const found = standing(newest);
    if (!found || found.fact.value === null) continue;
    const fact = found.fact as StandingFact;
    current.set(key, found.contradictedBy ? { ...fact, contradictedBy: found.contradictedBy } : fact);
  }
  return current;
}

export type Looked<T> =
  | { readonly isUnknown: true }
  | { readonly isUnknown: false; readonly value: T; readonly fact: StandingFact };

/**
 * Three-valued look-up: the value with the fact behind it, or unknown. Unknown is never a default; neither is a contradiction.
 *
 * @example lookUp(new Map(), "android.release") // { isUnknown: true }
 */
export function lookUp<K extends FactKey>(facts: CurrentFacts, key: K): Looked<ValueOf<K>> {
  const fact = facts.get(key);
  return fact && !fact.contradictedBy
    ? { isUnknown: false, value: fact.value as ValueOf<K>, fact }
    : { isUnknown: true };
}

/**
 * The bare value, contradicted or not, or undefined. For showing only: rules use {@link lookUp}.
 *
 * @example currentValue(new Map(), "android.release") // undefined
 */
export function currentValue<K extends FactKey>(facts: CurrentFacts, key: K): ValueOf<K> | undefined {
  return facts.get(key)?.value as ValueOf<K> | undefined;
}
