/** What a group was told: so many devices by a day, and how sure that was when it was told. */
export type GroupPromise = {
  readonly count: number;
  /** YYYY-MM-DD. */
  readonly day: string;
  readonly chance: number;
};

export type PromiseOutcome = "open" | "kept" | "broken";

/**
 * What came of a promise, by what was handed over, not by what was planned: early is kept too, a day late is broken.
 *
 * @param days days on which the group was given a device, YYYY-MM-DD
 * @example outcomeOfPromise({ count: 2, day: "2026-12-14" }, ["2026-12-10", "2026-12-15"], "2026-12-16") // "broken"
 */
export function outcomeOfPromise({ count, day }: GroupPromise, days: readonly string[], today: string): PromiseOutcome {
  if (days.filter((each) => each <= day).length >= count) return "kept";
  return today > day ? "broken" : "open";
}
