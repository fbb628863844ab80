import type { Step } from "~/core/runbook/step";
import type { Store } from "~/store/database";
import { reportsOf } from "~/store/reports";
import { stepsOf } from "~/store/runs";

/** How a step came to be done, and what a client said in it. */
export interface StepTrace {
  readonly place: number;
  readonly title: string;
  /** A client checked it, or a person said so. */
  readonly by: "script" | "hand";
  readonly who: string;
  readonly at: string;
  readonly values: Readonly<Record<string, string>>;
  readonly output: string;
}

/** Steps of a run that are done, newest first, each with what was reported of it. */
export function tracesOf(store: Store, run: number, steps: readonly Step[]): StepTrace[] {
  const done = new Map<number, { who: string; at: string }>();
  for (const row of stepsOf(store, run)) {
    if (row.outcome === "done") done.set(row.place, { who: row.by, at: row.at });
    else if (row.outcome === "undone") done.delete(row.place);
  }
  const reported = new Map(reportsOf(store, run).flatMap((r) => (r.event === "begun" ? [] : [[r.place, r] as const])));
  return [...done]
    .map(([place, { who, at }]): StepTrace => {
      const report = reported.get(place);
      return {
        place,
        title: steps[place]?.title ?? "",
        by: report?.event === "done" && steps[place]?.deed.kind !== "hands" ? "script" : "hand",
        who,
        at,
        values: report ? (JSON.parse(report.values) as Record<string, string>) : {},
        output: report?.tail ?? "",
      };
    })
    .sort((a, b) => b.place - a.place);
}

/** What the client said when the step at hand went wrong. */
export function lastWords(store: Store, run: number, place: number): string {
  return reportsOf(store, run).findLast((r) => r.place === place && r.event === "failed")?.tail ?? "";
}
