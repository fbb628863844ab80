import type { Model } from "~/core/catalogue/model";
import type { Policy } from "~/core/policy/policy";
import { Bench } from "~/core/runbook/bench";
import type { Runbook, Step } from "~/core/runbook/step";
import { modeAt } from "./modeAt";
import { REMEDIES } from "./remedies";
import { SEEN, type SeenTrouble } from "./seen";

/** Where a run stands when something is seen. */
export interface Where {
  readonly runbook: Pick<Runbook, "steps" | "operations">;
  readonly place: number;
  readonly model: Model;
  readonly serial: string | null;
  readonly policy: Policy;
}

/** How it goes on behind the steps. */
export type Next =
  /** The open step is tried again, or one before it; `place` is the step the run goes back to. */
  | { readonly kind: "back"; readonly place: number; readonly says: string }
  /** The open step is done by what was done. */
  | { readonly kind: "on"; readonly says: string }
  /** The run ends; the device is planned anew as what it is then. */
  | { readonly kind: "end"; readonly result: "does-not-start" | "dead" | "starts"; readonly says: string };

export interface TroublePlan {
  readonly seen: SeenTrouble;
  readonly is: string;
  readonly steps: readonly Step[];
  readonly next: Next;
  /** What is done when the steps did not help. */
  readonly still: Next;
}

/** What a remedy is written with. */
export interface Remedy {
  /** Whether it can be seen at this step of this sheet at all. */
  readonly fits: (where: Where) => boolean;
  readonly write: (bench: Bench, where: Where) => { readonly next: Next; readonly still?: Next };
}

/** The run ends and the same engine plans the rescue: stock package, format, or parts. */
export const RESCUE: Next = {
  kind: "end",
  result: "does-not-start",
  says: "End the run as “does not start”: the device is planned anew, with the maker's package where there is one",
};

/**
 * What can be picked at a step, in the order of the table.
 *
 * @example pickable({ runbook, place: 3, … }) // ["animation-hangs", …]
 */
export const pickable = (where: Where): SeenTrouble[] =>
  (Object.keys(SEEN) as SeenTrouble[]).filter((seen) => REMEDIES[seen].fits(where));

/**
 * The next steps for what is seen, for this device in this way: steps like those of the sheet, with the real commands, and
 * how the run goes on behind them.
 *
 * @throws RangeError where it can't be seen at this step
 * @example planTrouble("animation-hangs", { runbook, place: 3, … }).steps[0].deed.kind // "hand"
 */
export function planTrouble(seen: SeenTrouble, where: Where): TroublePlan {
  const remedy = REMEDIES[seen];
  if (!remedy.fits(where)) throw new RangeError(`“${SEEN[seen].says}” can't be seen at this step`);
  const bench = new Bench(where.model, modeAt(where.runbook.steps, where.place), where.serial, where.policy);
  bench.beginOperation(where.runbook.steps[where.place]?.operation ?? -1);
  const { next, still } = remedy.write(bench, where);
  return { seen, is: SEEN[seen].is, steps: bench.steps, next, still: still ?? RESCUE };
}
