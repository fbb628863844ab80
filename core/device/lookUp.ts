import { type Fact, type FactKey, type FactValue, outweighs } from "./fact";

/** The current value of each key: the newest from the best source. */
export type CurrentFacts = ReadonlyMap<FactKey, Fact>;

/**
 * Current facts out of the whole history.
 *
 * @param history facts in any order; those later in the list win a tie
 */
export function currentFacts(history: Iterable<Fact>): CurrentFacts {
  const current = new Map<FactKey, Fact>();
  for (const fact of history) {
    const standing = current.get(fact.key);
    if (!standing || outweighs(fact, standing)) current.set(fact.key, fact);
  }
  return current;
}

export type Looked<T> =
  | { readonly isUnknown: true }
  | { readonly isUnknown: false; readonly value: T; readonly fact: Fact };

/** Three-valued look-up: the value with the fact behind it, or unknown. Unknown is never a default. */
export function lookUp<T extends FactValue>(facts: CurrentFacts, key: FactKey): Looked<T> {
  const fact = facts.get(key);
  return fact ? { isUnknown: false, value: fact.value as T, fact } : { isUnknown: true };
}

/** The bare value, or undefined. For showing only: rules use {@link lookUp}. */
export function currentValue<T extends FactValue>(facts: CurrentFacts, key: FactKey): T | undefined {
  return facts.get(key)?.value as T | undefined;
}
