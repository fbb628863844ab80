import type { RunEnd, RunStanding } from "~/core/lane/station";
import type { Runbook } from "~/core/runbook/step";
import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

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
const everyRun = query<object, RunRow>(`SELECT id, device, decision, runbook, steps, at, by FROM run ORDER BY id`);
const runsOfDevice = query<{ device: number }, RunRow>(`
  SELECT id, device, decision, runbook, steps, at, by FROM run WHERE device = @device ORDER BY id
`);
const beginning = queryOne<{ run: number }, Hand>("SELECT at, by FROM run WHERE id = @run");
const insertRun = change<{ device: number; decision: number; runbook: string; steps: number } & Hand>(`
  INSERT INTO run (device, decision, runbook, steps, at, by)
  VALUES (@device, @decision, @runbook, @steps, @at, @by)
`);

export const findRun = (store: Store, device: number) => newestRun(store, { device });
export const allRuns = (store: Store) => everyRun(store, {});
/** Who began a run, and when. */
export const beginningOf = (store: Store, run: number) => beginning(store, { run }) as Hand;
export const runsOf = (store: Store, device: number) => runsOfDevice(store, { device });

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
const everyStep = query<object, RunStepRow & { readonly run: number }>(`
  SELECT id, run, place, code, outcome, note, at, by FROM run_step ORDER BY id
`);
const insertStep = change<{ run: number; place: number; code: string; outcome: string; note: string } & Hand>(`
  INSERT INTO run_step (run, place, code, outcome, note, at, by)
  VALUES (@run, @place, @code, @outcome, @note, @at, @by)
`);

export const stepsOf = (store: Store, run: number) => runSteps(store, { run });
export const allSteps = (store: Store) => everyStep(store, {});

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

/** A step that some other page, person or script has moved on. */
export class RunMoved extends Error {
  constructor(readonly position: RunPosition) {
    super("the run was moved on");
    this.name = "RunMoved";
  }
}

/**
 * Appends what came of a step. The position is read inside the transaction: a second tab that still shows an earlier step
 * is told, and nothing is written twice.
 *
 * @returns the row id of what was written
 * @throws RunMoved where the run stands elsewhere
 */
export function appendStep(
  store: Store,
  run: Pick<RunRow, "id" | "steps">,
  step: { place: number; code: string; outcome: StepOutcome; note: string },
  hand: Hand,
): number {
  return inTransaction(store, () => {
    const position = positionOf(stepsOf(store, run.id), run.steps);
    const expected = step.outcome === "undone" ? position.place - 1 : position.place;
    if (step.place !== expected || step.place < 0 || step.place >= run.steps) throw new RunMoved(position);
    return Number(insertStep(store, { run: run.id, ...step, ...hand }).lastInsertRowid);
  });
}

export interface RunEndRow extends Hand {
  readonly run: number;
  readonly result: RunEnd;
  readonly place: number;
  readonly seen: string;
}

const endOfRun = queryOne<{ run: number }, RunEndRow>(`
  SELECT run, result, place, seen, at, by FROM run_end WHERE run = @run ORDER BY id DESC LIMIT 1
`);
const everyEnd = query<object, RunEndRow>(`SELECT run, result, place, seen, at, by FROM run_end ORDER BY id`);
const insertEnd = change<{ device: number; run: number; result: string; place: number; seen: string } & Hand>(`
  INSERT INTO run_end (device, run, result, place, seen, at, by)
  VALUES (@device, @run, @result, @place, @seen, @at, @by)
`);

/** How a run was ended before its last step. */
export const runEnd = (store: Store, run: number) => endOfRun(store, { run });
export const allRunEnds = (store: Store) => everyEnd(store, {});

export function appendRunEnd(
  store: Store,
  run: Pick<RunRow, "id" | "device">,
  end: { readonly result: RunEnd; readonly place: number; readonly seen: string },
  hand: Hand,
) {
  insertEnd(store, { device: run.device, run: run.id, ...end, ...hand });
}

const STANDING = `
  SELECT r.device,
         r.id AS run,
         r.decision,
         r.steps,
         coalesce((SELECT CASE s.outcome WHEN 'done' THEN s.place + 1 ELSE s.place END
          FROM run_step s WHERE s.run = r.id AND s.outcome IN ('done', 'undone') ORDER BY s.id DESC LIMIT 1), 0) AS done,
         (SELECT e.result FROM run_end e WHERE e.run = r.id ORDER BY e.id DESC LIMIT 1) AS stopped,
         (SELECT e.result FROM checkout_end e WHERE e.run = r.id ORDER BY e.id DESC LIMIT 1) AS checkout
  FROM   run r`;
type StandingRow = RunStanding & { readonly device: number };
const standings = query<object, StandingRow>(
  `${STANDING} WHERE r.id = (SELECT max(id) FROM run WHERE device = r.device)`,
);
const standingOf = queryOne<{ run: number }, StandingRow>(`${STANDING} WHERE r.id = @run`);

/** For every device with a run: how far the newest is, and how it ended. */
export const runStandings = (store: Store): ReadonlyMap<number, RunStanding> =>
  new Map(standings(store, {}).map((r) => [r.device, r]));

/** The same for one run. */
export const runStanding = (store: Store, run: number | null): RunStanding | null =>
  run === null ? null : (standingOf(store, { run }) ?? null);
