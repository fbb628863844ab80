import { recordRun, runbookOf } from "~/app/server/bench/runbooks";
import { casesOf, lockOf } from "~/app/server/clearance/cases";
import { plannedDevice } from "~/app/server/planning/planning";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { Runbook } from "~/core/runbook/step";
import type { Way } from "~/core/upgrade/way";
import { appendClearance } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import { findStanding, type Standing } from "~/store/devices";
import { appendStep, beginRun, checkoutEnd, findRun, positionOf, type StepOutcome, stepsOf } from "~/store/runs";

/** Outcomes a volunteer can give a step. */
const OUTCOMES: readonly StepOutcome[] = ["begun", "done", "wrong", "again", "undone"];

/**
 * Does what the bench page asks: begins a run, or appends what came of a step. When the last step is done, what the run
 * made of the device is appended as facts in the same transaction.
 *
 * @returns what is wrong in words, or null
 */
export function actAtBench(
  store: Store,
  tag: string,
  asked: { act: string; place: number; note: string; yes: boolean },
  hand: Hand,
): string | null {
  return store.transaction(() => {
    const standing = findStanding(store, tag);
    if (!standing) return `There is no device ${tag}`;
    const gate = CLEARANCE_STATES[standing.clearance];
    if (!gate.opensGate)
      return `${tag}: ${gate.says.toLowerCase()}. Stop here: nothing is done before the account lock is settled`;
    if (asked.act === "locked") return lockFound(store, standing, asked, hand);
    if (standing.way === null || standing.decision === null) return `${tag} has no accepted way. Decide at Match first`;
    const run = findRun(store, standing.id);
    const usable =
      run !== undefined && run.decision === standing.decision && checkoutEnd(store, run.id)?.result !== "back";
    if (asked.act === "begin") {
      if (usable) return "This run has begun already. Reload the page";
      const sheet = runbookOf(store, tag);
      if (!sheet.ok) return sheet.says;
      beginRun(store, standing.id, standing.decision, sheet.runbook, hand);
      return null;
    }
    if (!usable) return "There is no run to go on with. Begin it first";
    if (!OUTCOMES.includes(asked.act as StepOutcome)) return "Choose “done” or “something is wrong”";
    const runbook = JSON.parse(run.runbook) as Runbook;
    const step = runbook.steps[asked.place];
    if (!step) return "This step is not on the sheet. Reload the page";
    if (asked.act === "wrong" && asked.note.trim().length < 3) return "Write down what you see: it helps the next one";
    if (asked.act === "done" && step.caution && !asked.yes) return "This can't be undone: tick the box first";
    const wrong = appendStep(
      store,
      run,
      { place: asked.place, code: step.code, outcome: asked.act as StepOutcome, note: asked.note.trim() },
      hand,
    );
    if (wrong) return wrong;
    if (asked.act === "done" && positionOf(stepsOf(store, run.id), run.steps).finished)
      recordRun(store, standing, JSON.parse(standing.way) as Way, hand);
    return null;
  })();
}

/** A lock that turns up at the bench: the gate shuts, the way is taken back, the run ends; the device is Clearance's again. */
function lockFound(
  store: Store,
  standing: Standing,
  asked: { place: number; note: string },
  hand: Hand,
): string | null {
  const seen = casesOf(store)(standing.id).newest;
  const note = asked.note.trim();
  const evidence = `At the bench, step ${asked.place + 1}: the device asks for an earlier account${note ? `. ${note}` : ""}`;
  const lock = lockOf(plannedDevice(store, standing));
  return appendClearance(store, standing.tag, { event: "lock-came-back", evidence, seen, lock }, hand);
}
