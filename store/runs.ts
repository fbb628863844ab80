import type { Runbook } from "~/core/runbook/step";
import type { Way } from "~/core/upgrade/way";
import { change, type Hand, query, queryOne, type Store } from "./database";

export interface DecisionRow extends Hand {
  readonly id: number;
  readonly way: string | null;
  readonly proposed: string | null;
  readonly reason: string;
}

const decisions = query<{ device: number }, DecisionRow>(`
  SELECT id, way, proposed, reason, at, by FROM decision WHERE device = @device ORDER BY id
`);
const insertDecision = change<{ device: number; way: string | null; proposed: string | null; reason: string } & Hand>(`
  INSERT INTO decision (device, way, proposed, reason, at, by)
  VALUES (@device, @way, @proposed, @reason, @at, @by)
`);

export const decisionsOf = (store: Store, device: number) => decisions(store, { device });

/** Appends a decision; a null way takes the standing one back. */
export function decide(
  store: Store,
  device: number,
  decision: { way: Way | null; proposed: string | null; reason: string },
  hand: Hand,
): number {
  const way = decision.way ? JSON.stringify(decision.way) : null;
  return Number(
    insertDecision(store, { device, proposed: decision.proposed, reason: decision.reason, way, ...hand })
      .lastInsertRowid,
  );
}

export interface RunRow extends Hand {
  readonly id: number;
  readonly device: number;
  readonly decision: number;
  readonly runbook: string;
  readonly steps: number;
}

const newestRun = queryOne<{ device: number }, RunRow>(`
  SELECT id, device, decision, runbook, steps, at, by FROM run WHERE device = @device ORDER BY id DESC LIMIT 1
`);
const insertRun = change<{ device: number; decision: number; runbook: string; steps: number } & Hand>(`
  INSERT INTO run (device, decision, runbook, steps, at, by)
  VALUES (@device, @decision, @runbook, @steps, @at, @by)
`);

export const findRun = (store: Store, device: number) => newestRun(store, { device });

export function beginRun(store: Store, device: number, decision: number, runbook: Runbook, hand: Hand): number {
  return Number(
    insertRun(store, { device, decision, runbook: JSON.stringify(runbook), steps: runbook.steps.length, ...hand })
      .lastInsertRowid,
  );
}

export type StepOutcome = "begun" | "done" | "wrong" | "again" | "undone";

export interface RunStepRow extends Hand {
  readonly id: number;
  readonly place: number;
  readonly code: string;
  readonly outcome: StepOutcome;
  readonly note: string;
}

const runSteps = query<{ run: number }, RunStepRow>(`
  SELECT id, place, code, outcome, note, at, by FROM run_step WHERE run = @run ORDER BY id
`);
const insertStep = change<{ run: number; place: number; code: string; outcome: string; note: string } & Hand>(`
  INSERT INTO run_step (run, place, code, outcome, note, at, by)
  VALUES (@run, @place, @code, @outcome, @note, @at, @by)
`);

export const stepsOf = (store: Store, run: number) => runSteps(store, { run });

/** Where a run stands, told from what was appended. */
export interface RunPosition {
  /** Place of the step at hand; equal to the number of steps when the run is finished. */
  readonly place: number;
  readonly finished: boolean;
  /** When the step at hand was begun, if its clock runs. */
  readonly begunAt: string | null;
  /** What was written when the step at hand went wrong; null when it did not. */
  readonly wrong: string | null;
}

export function positionOf(rows: readonly RunStepRow[], steps: number): RunPosition {
  let place = 0;
  let begunAt: string | null = null;
  let wrong: string | null = null;
  for (const row of rows) {
    if (row.outcome === "begun") begunAt = row.at;
    else if (row.outcome === "wrong") wrong = row.note;
    else if (row.outcome === "again") {
      wrong = null;
      begunAt = null;
    } else {
      place = row.outcome === "done" ? row.place + 1 : row.place;
      begunAt = null;
      wrong = null;
    }
  }
  return { place, finished: place >= steps, begunAt, wrong };
}

/**
 * Appends what came of a step. The position is read inside the transaction: a second tab that still shows an earlier step
 * is told, and nothing is written twice.
 *
 * @returns what is wrong in words, or null when it was written
 */
export function appendStep(
  store: Store,
  run: RunRow,
  step: { place: number; code: string; outcome: StepOutcome; note: string },
  hand: Hand,
): string | null {
  return store.transaction(() => {
    const position = positionOf(stepsOf(store, run.id), run.steps);
    const expected = step.outcome === "undone" ? position.place - 1 : position.place;
    if (step.place !== expected || step.place < 0 || step.place >= run.steps)
      return `This run is at step ${Math.min(position.place + 1, run.steps)} by now: another page or person moved it on. Reload before you go on`;
    insertStep(store, { run: run.id, ...step, ...hand });
    return null;
  })();
}

export interface CheckoutRow extends Hand {
  readonly item: string;
  readonly measured: string;
  readonly result: "ok" | "not-ok" | "not-tried";
}

const checkout = query<{ run: number }, CheckoutRow>(`
  SELECT item, measured, result, at, by FROM checkout_entry WHERE run = @run ORDER BY id
`);
const insertCheck = change<{ device: number; run: number; item: string; measured: string; result: string } & Hand>(`
  INSERT INTO checkout_entry (device, run, item, measured, result, at, by)
  VALUES (@device, @run, @item, @measured, @result, @at, @by)
`);
const ends = queryOne<{ run: number }, { result: "done" | "back"; note: string } & Hand>(`
  SELECT result, note, at, by FROM checkout_end WHERE run = @run ORDER BY id DESC LIMIT 1
`);
const insertEnd = change<{ device: number; run: number; result: string; note: string } & Hand>(`
  INSERT INTO checkout_end (device, run, result, note, at, by) VALUES (@device, @run, @result, @note, @at, @by)
`);

/** Newest entry of each check item. */
export function checksOf(store: Store, run: number): Map<string, CheckoutRow> {
  return new Map(checkout(store, { run }).map((row) => [row.item, row]));
}

export const checkoutEnd = (store: Store, run: number) => ends(store, { run });

export function appendChecks(
  store: Store,
  device: number,
  run: number,
  checks: readonly { item: string; measured: string; result: string }[],
  hand: Hand,
) {
  store.transaction(() => {
    for (const check of checks) insertCheck(store, { device, run, ...check, ...hand });
  })();
}

export function endCheckout(
  store: Store,
  device: number,
  run: number,
  end: { result: "done" | "back"; note: string },
  hand: Hand,
) {
  insertEnd(store, { device, run, ...end, ...hand });
}

const standings = query<
  object,
  { device: number; run: number; decision: number; steps: number; done: number | null; end: string | null }
>(`
  SELECT r.device,
         r.id AS run,
         r.decision,
         r.steps,
         (SELECT CASE s.outcome WHEN 'done' THEN s.place + 1 ELSE s.place END
          FROM run_step s WHERE s.run = r.id AND s.outcome IN ('done', 'undone') ORDER BY s.id DESC LIMIT 1) AS done,
         (SELECT e.result FROM checkout_end e WHERE e.run = r.id ORDER BY e.id DESC LIMIT 1) AS end
  FROM   run r
  WHERE  r.id = (SELECT max(id) FROM run WHERE device = r.device)
`);

/** For every device with a run: how far it is, and how its checkout ended. */
export function runStandings(store: Store) {
  return new Map(
    standings(store, {}).map((r) => [
      r.device,
      {
        run: r.run,
        decision: r.decision,
        finished: (r.done ?? 0) >= r.steps,
        done: r.done ?? 0,
        steps: r.steps,
        end: r.end,
      },
    ]),
  );
}
