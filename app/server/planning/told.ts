import { type Outcome, outcomeWords } from "~/core/lane/station";
import type { Plan } from "~/core/upgrade/plan";

/**
 * What is told of a device: its plan's verdict while it is on the lane, and what came of it afterwards. What is finished, or goes no
 * further, can't go any more.
 */
export function toldOf(plan: Pick<Plan, "verdict" | "says">, outcome: Outcome): Pick<Plan, "verdict" | "says"> {
  if (outcome === "open") return { verdict: plan.verdict, says: plan.says };
  return { verdict: outcome === "handed-over" ? "good-enough" : "not-this-way", says: outcomeWords(outcome) };
}

/** True where ways are of no more use to a device: it went elsewhere, or is set aside. */
export const goesNoFurther = (outcome: Outcome): outcome is Exclude<Outcome, "open" | "handed-over"> =>
  outcome !== "open" && outcome !== "handed-over";
