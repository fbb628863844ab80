import { factsOfAnswer } from "~/core/device/readOut";
import { readIdentityValue } from "~/core/runbook/identityCopy";
import { readPackageValue } from "~/core/runbook/packagesSeen";
import { type ReportLine, readReport } from "~/core/runbook/report";
import { readRunbook, type Step } from "~/core/runbook/step";
import type { Store } from "~/store/database";
import { findStanding, type Standing } from "~/store/devices";
import { writeFacts } from "~/store/facts";
import { appendReport, lastReported } from "~/store/reports";
import { positionOf, type RunRow, runEnd, runsOf, stepsOf } from "~/store/runs";
import { servedScript } from "~/store/shown";
import { inTransaction } from "~/store/transaction";
import { actAtBench, runningRun } from "./actAtBench";

export type ReportAnswer =
  | {
      readonly ok: true;
      /** Lines that were new. */
      readonly taken: number;
      /** Steps of the run that are done now. */
      readonly done: number;
      readonly steps: number;
      /** What a line could not do, in words: the report is kept all the same. */
      readonly refused: readonly string[];
    }
  | { readonly ok: false; readonly status: 400 | 404 | 409; readonly says: string };

/** Who a script's lines are signed by. */
const SCRIPT = "Bench script";

/**
 * Takes in what a bench script reports: begins the run where none was, moves it on step by step, keeps output and what the
 * device told. Lines that were taken in before are passed over: a report may be sent again and again, or dropped on the
 * bench page afterwards.
 *
 * @param ahead how far the lane's clock is ahead of the machine's, ms
 */
export function takeReport(store: Store, tag: string, text: string, ahead: number): ReportAnswer {
  const read = readReport(text);
  if (!read.ok) return { ok: false, status: 400, says: read.says };
  return inTransaction(store, (): ReportAnswer => {
    const standing = findStanding(store, tag);
    if (!standing) return { ok: false, status: 404, says: `There is no device ${tag}` };
    if (read.lines.length === 0) return { ok: false, status: 400, says: "The report is empty" };
    const running = runningRun(store, standing);
    const { lines, refused } = ofThisRun(store, standing, running, read.lines, ahead);
    const begun = running ?? (lines.length ? beginBy(store, tag, lines[0], ahead) : null);
    if (typeof begun === "string") return { ok: false, status: 409, says: begun };
    if (!begun) return { ok: true, taken: 0, done: 0, steps: 0, refused };
    const runbook = readRunbook(begun.runbook);
    let taken = 0;
    let last = 0;
    for (const line of lines) {
      // Clients report whole seconds: what comes later in the report comes later in the record.
      last = Math.max(Date.parse(line.at) + ahead, last + 1);
      if (line.seq <= lastReported(store, begun.id, line.session)) continue;
      taken++;
      const hand = { by: SCRIPT, at: new Date(last).toISOString() };
      const { session, seq, event, exit, tail } = line;
      const place = line.step - 1;
      appendReport(store, begun.id, {
        session,
        seq,
        place,
        event,
        exit,
        values: JSON.stringify(line.values),
        tail: tail.slice(0, 4000),
        ...hand,
      });
      const step: Step | undefined = runbook.steps[place];
      if (!step || step.code !== line.code) {
        refused.push(`Step ${line.step} (${line.code}) is not on the sheet of this run`);
        continue;
      }
      const said = Object.entries(line.values).flatMap(([name, value]) => factsOfAnswer(name, value));
      writeFacts(
        store,
        standing.id,
        said.map(([key, value]) => ({ key, value, source: "read" as const, ...hand })),
      );
      const wrong = moveOn(store, standing.tag, begun, line, place, hand);
      if (wrong) refused.push(wrong);
    }
    const { place } = positionOf(stepsOf(store, begun.id), begun.steps);
    return { ok: true, taken, done: place, steps: begun.steps, refused };
  });
}

/**
 * Without the lines of earlier runs of this device, and of scripts of other lanes: a script that was ended still sends its report,
 * and a file lies about. The old sheet may be the new one's very twin, and what was read then is not read now.
 */
function ofThisRun(
  store: Store,
  standing: Standing,
  running: RunRow | null,
  lines: readonly ReportLine[],
  ahead: number,
) {
  const earlier = runsOf(store, standing.id).filter((r) => r.id !== running?.id);
  const ended = earlier
    .flatMap((r) => runEnd(store, r.id)?.at ?? [])
    .sort()
    .at(-1);
  const stranger = ({ session, at, script }: ReportLine): string | null => {
    if (script !== undefined && !servedScript(store, script, standing.id))
      return "It is of a script that this lane did not serve for this device: fetch the script here, or do the steps by hand";
    if (earlier.some((r) => lastReported(store, r.id, session) > 0))
      return "It was taken in with an earlier run of this device";
    return ended !== undefined && Date.parse(at) + ahead < Date.parse(ended)
      ? `It was begun before the last run was ended, at ${ended}: it belongs to that run. Where the clock of the bench's computer is wrong, do the steps by hand`
      : null;
  };
  const belongs = new Map<string, string | null>();
  for (const line of lines) if (!belongs.has(line.session)) belongs.set(line.session, stranger(line));
  const refused = [...belongs].flatMap(([session, says]) => (says === null ? [] : [`Report ${session}: ${says}`]));
  return { lines: lines.filter((l) => belongs.get(l.session) === null), refused };
}

function moveOn(
  store: Store,
  tag: string,
  run: RunRow,
  line: ReportLine,
  place: number,
  hand: { by: string; at: string },
): string | null {
  const position = positionOf(stepsOf(store, run.id), run.steps);
  // A step that somebody has done by hand in the meantime is done.
  if (place < position.place) return null;
  const act = { begun: "begun", done: "done", failed: "wrong" }[line.event];
  // Trying a step again after it went wrong is what running the script again means.
  if (position.wrong !== null && line.event !== "failed")
    actAtBench(store, tag, { act: "again", place, note: "", yes: false }, hand);
  const note = line.event === "failed" ? line.tail.slice(0, 1000) || "The script stopped here" : "";
  const copies = Object.entries(line.values).flatMap(([name, value]) => readIdentityValue(name, value) ?? []);
  const packages = Object.entries(line.values).flatMap(([name, value]) => readPackageValue(name, value) ?? []);
  return actAtBench(store, tag, { act, place, note, yes: true, copies, packages }, hand);
}

/** Begins the run that a report is of. @returns what is wrong in words where it can't be begun */
function beginBy(store: Store, tag: string, first: ReportLine, ahead: number): RunRow | string {
  const at = new Date(Date.parse(first.at) + ahead - 1).toISOString();
  const wrong = actAtBench(store, tag, { act: "begin", place: 0, note: "", yes: false }, { by: SCRIPT, at });
  if (wrong) return wrong;
  const now = findStanding(store, tag);
  return (now && runningRun(store, now)) ?? "The run could not be begun";
}
