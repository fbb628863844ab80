import { casesOf, lockOf } from "~/app/server/clearance/cases";
import { plannedDevice } from "~/app/server/planning/planning";
import { asClause } from "~/core/catalogue/clause";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { RUN_END_WORDS, type RunEnd, type RunStanding, runThatCounts } from "~/core/lane/station";
import { type IdentityCopy, notKept, notWhole } from "~/core/runbook/identityCopy";
import { type PackageSeen, seenInList } from "~/core/runbook/packagesSeen";
import { factsMade, makesAt, makesAtStop, type Starts } from "~/core/runbook/progress";
import { type Makes, readRunbook, type Step } from "~/core/runbook/step";
import { findBench, putRunAt } from "~/store/benches";
import { appendClearance } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import { undecide } from "~/store/decisions";
import { appendDeviceEnd } from "~/store/deviceEnds";
import { findStanding, type Standing } from "~/store/devices";
import { undoFactsOfRunStep, writeFacts } from "~/store/facts";
import { appendIdentityCopies, identityCopiesOfRun } from "~/store/identityCopies";
import { appendPackagesSeen } from "~/store/packagesSeen";
import {
  appendRunEnd,
  appendStep,
  beginRun,
  findRun,
  positionOf,
  RunMoved,
  type RunRow,
  runStanding,
  type StepOutcome,
  stepsOf,
} from "~/store/runs";
import { inTransaction } from "~/store/transaction";
import { runbookOf } from "./runbooks";

/** Outcomes a volunteer can give a step. */
const OUTCOMES: readonly StepOutcome[] = ["begun", "done", "wrong", "again", "undone"];

export interface BenchAsk {
  readonly act: string;
  readonly place: number;
  readonly note: string;
  readonly yes: boolean;
  /** How the run ends, where it is ended. */
  readonly end?: string;
  /** What was saved of the device itself, at the step that asks for it. */
  readonly copies?: readonly IdentityCopy[];
  /** What became of each package, at the step that takes them away: read by the script, or the client's list as it was pasted. */
  readonly packages?: readonly PackageSeen[] | string;
  /** Where the run is begun, where the house has written down its benches. */
  readonly bench?: number | null;
}

/**
 * Does what the bench page or a script asks: begins a run, appends what came of a step, ends the run. What a step or an
 * operation has made of the device is appended as facts in the same transaction; a step that is taken back takes them back.
 *
 * @returns what is wrong in words, or null
 */
export function actAtBench(store: Store, tag: string, asked: BenchAsk, hand: Hand): string | null {
  return inTransaction(store, () => {
    const standing = findStanding(store, tag);
    if (!standing) return `There is no device ${tag}`;
    const gate = CLEARANCE_STATES[standing.clearance];
    if (!gate.opensGate)
      return `${tag}: ${asClause(gate.says)}. Stop here: nothing is done before the account lock is settled`;
    if (asked.act === "locked") return lockFound(store, standing, asked, hand);
    if (standing.way === null || standing.decision === null) return `${tag} has no accepted way. Decide at Match first`;
    const run = runningRun(store, standing);
    if (asked.act === "begin") return begin(store, standing, run, asked.bench ?? null, hand);
    if (!run) return "There is no run to go on with. Begin it first";
    if (asked.act === "end") return endRun(store, standing, run, asked, hand);
    return step(store, standing, run, asked, hand);
  });
}

/** The run that counts, with its row. */
export function runningRun(store: Store, standing: Standing): (RunRow & { readonly standing: RunStanding }) | null {
  const counts = runThatCounts(runStanding(store, standing.run), standing.decision);
  const row = counts && findRun(store, standing.id);
  return counts && row ? { ...row, standing: counts } : null;
}

function begin(store: Store, standing: Standing, run: unknown, asked: number | null, hand: Hand): string | null {
  if (run) return "This run has begun already. Reload the page";
  const bench = asked === null ? undefined : findBench(store, asked);
  if (asked !== null && (!bench || bench.closed)) return "That bench is not there any more. Choose another one";
  const sheet = runbookOf(store, standing.tag, bench);
  if (!sheet.ok) return sheet.says;
  const begun = beginRun(store, standing.id, standing.decision as number, sheet.runbook, hand);
  if (bench) putRunAt(store, begun, bench.id, hand);
  return null;
}

function step(store: Store, standing: Standing, run: RunRow, asked: BenchAsk, hand: Hand): string | null {
  const outcome = OUTCOMES.find((o) => o === asked.act);
  if (!outcome) return "Choose “done” or “something is wrong”";
  const runbook = readRunbook(run.runbook);
  const here = runbook.steps[asked.place];
  if (!here) return "This step is not on the sheet. Reload the page";
  if (outcome === "wrong" && asked.note.trim().length < 3) return "Write down what you see: it helps the next one";
  if (outcome === "done" && here.caution && !asked.yes) return "This can't be undone: tick the box first";
  const { deed } = here;
  const kept = outcome === "done" && deed.kind === "gate" && deed.gate.kind === "keep" ? deed.gate.partitions : [];
  const copies = (asked.copies ?? []).filter((c) => kept.includes(c.partition));
  if (kept.length > 0) {
    const missing = notKept(kept, [...copies, ...identityCopiesOfRun(store, run.id)]);
    if (missing.length)
      return `Write down name, bytes and SHA-256 of what was saved of ${missing.join(", ")}: without it the run goes no further`;
    const sizes = deed.kind === "gate" && deed.gate.kind === "keep" ? deed.gate.sizes : {};
    const [odd] = notWhole(sizes, copies);
    if (odd)
      return `${odd.file} has ${odd.bytes} bytes of ${sizes[odd.partition]}: the dump is not whole. Dump again before anything is written`;
  }
  const taken = outcome === "done" ? packagesTaken(here, asked.packages ?? []) : [];
  if (typeof taken === "string") return taken;
  if (outcome === "done" || outcome === "begun") {
    const sheet = runbookOf(store, standing.tag);
    if (!sheet.ok && sheet.code === "stale") return sheet.says;
  }
  try {
    const row = appendStep(store, run, { place: asked.place, code: here.code, outcome, note: asked.note.trim() }, hand);
    appendIdentityCopies(store, standing.id, run.id, copies, hand);
    if (deed.kind === "gate" && deed.gate.kind === "uninstall")
      appendPackagesSeen(store, standing.id, deed.gate.list, taken, hand);
    if (outcome === "done") writeFacts(store, standing.id, factsMade(makesAt(runbook, asked.place), hand), row);
    if (outcome === "undone") undoFactsOfRunStep(store, run.id, asked.place, hand);
  } catch (error) {
    if (error instanceof RunMoved)
      return `This run is at step ${Math.min(error.position.place + 1, run.steps)} by now: another page, person or script moved it on. Reload before you go on`;
    throw error;
  }
  return null;
}

/** What became of the packages of a step; what is wrong in words where it is not told of each. */
function packagesTaken({ deed }: Step, told: readonly PackageSeen[] | string): readonly PackageSeen[] | string {
  if (deed.kind !== "gate" || deed.gate.kind !== "uninstall") return [];
  const names = deed.gate.packages;
  if (typeof told === "string")
    return seenInList(
      told,
      names.map((name) => ({ name, before: null })),
    );
  const missing = names.filter((name) => !told.some((t) => t.name === name));
  return missing.length === 0
    ? told.filter((t) => names.includes(t.name))
    : `What became of ${missing[0]}${missing.length > 1 ? ` and ${missing.length - 1} more` : ""} is not told: paste what “adb shell pm list packages” says now`;
}

/** Fewest letters that tell what was seen. */
const SEEN_LETTERS = 5;

/** How a run is said to end, as it is kept and what it tells of the device. */
const ENDS = {
  starts: { result: "starts", starts: "as-before" },
  "starts-otherwise": { result: "starts", starts: "otherwise" },
  "does-not-start": { result: "does-not-start", starts: "not" },
  dead: { result: "dead", starts: "not" },
} as const satisfies Record<string, { readonly result: RunEnd; readonly starts: Starts }>;
const isEnd = (end: string): end is keyof typeof ENDS => Object.hasOwn(ENDS, end);

/** Ends a run before its last step: what was seen changes the facts, the way is taken back, the device is planned anew. */
function endRun(store: Store, standing: Standing, run: RunRow, asked: BenchAsk, hand: Hand): string | null {
  if (!asked.end || !isEnd(asked.end))
    return "Choose how it ends: it starts as before, it starts with another system, it does not start, or it is dead";
  const { result, starts } = ENDS[asked.end];
  if (asked.note.trim().length < SEEN_LETTERS) return "Write down what you see on the device: it helps the next one";
  const position = positionOf(stepsOf(store, run.id), run.steps);
  if (position.finished) return "All its steps are done: the rest is settled at Checkout";
  const seen = `${starts === "otherwise" ? "Another system than before: " : ""}${asked.note.trim()}`;
  stop(store, standing, run, { result, place: position.place, seen }, hand);
  const runbook = readRunbook(run.runbook);
  const begun = position.begunAt !== null || position.wrong !== null;
  const makes: Makes = makesAtStop(runbook, position.place, begun, starts);
  writeFacts(store, standing.id, factsMade(makes, hand));
  if (result === "dead")
    appendDeviceEnd(store, standing.id, { result: "parts", reason: `Dead at the bench: ${asked.note.trim()}` }, hand);
  return null;
}

function stop(
  store: Store,
  standing: Standing,
  run: RunRow,
  end: { readonly result: RunEnd; readonly place: number; readonly seen: string },
  hand: Hand,
) {
  appendRunEnd(store, run, end, hand);
  undecide(store, standing.id, `run ended at step ${end.place + 1}: ${RUN_END_WORDS[end.result]}`, hand);
}

/** A lock that turns up at the bench: the gate shuts, the way is taken back, the run ends; the device is Clearance's again. */
function lockFound(store: Store, standing: Standing, asked: BenchAsk, hand: Hand): string | null {
  const seen = casesOf(store)(standing.id).newest;
  const note = asked.note.trim();
  const evidence = `At the bench, step ${asked.place + 1}: the device asks for an earlier account${note ? `. ${note}` : ""}`;
  const lock = lockOf(plannedDevice(store, standing));
  const run = runningRun(store, standing);
  const wrong = appendClearance(store, standing.tag, { event: "lock-came-back", evidence, seen, lock }, hand);
  if (wrong || !run) return wrong;
  appendRunEnd(store, run, { result: "lock", place: asked.place, seen: evidence }, hand);
  writeFacts(store, standing.id, factsMade({ "accounts.on": true }, hand));
  return null;
}
