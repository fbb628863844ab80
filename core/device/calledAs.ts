import { type CurrentFacts, currentValue } from "./lookUp";

/**
 * What a device is called by its list or label, so that those of one unknown model stand together; "" where it has no name.
 *
 * @example calledAs(new Map()) // ""
 */
export const calledAs = (facts: CurrentFacts): string =>
  (currentValue(facts, "model.name") ?? currentValue(facts, "model.number") ?? "").trim();
