import { groupedBy } from "~/app/server/planning/groupedBy";
import { indexOf, type PlannedDevice } from "~/app/server/planning/planning";
import { asClause } from "~/core/catalogue/clause";
import { modelWithCode } from "~/core/catalogue/model";
import { CLEARANCE_EVENTS } from "~/core/clearance/events";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { DANGERS } from "~/core/device/danger";
import { FACT_KEYS, FACTS, type Fact, type FactKey, type FactSource, factText, SOURCE_WORDS } from "~/core/device/fact";
import { currentFacts, currentValue } from "~/core/device/lookUp";
import { DEVICE_END_WORDS, RUN_END_WORDS } from "~/core/lane/station";
import { asideHistory } from "~/store/aside";
import { checkoutEnd } from "~/store/checkouts";
import { clearanceEvents } from "~/store/clearance";
import type { Store } from "~/store/database";
import { decisionsOf } from "~/store/decisions";
import { deviceEnds } from "~/store/deviceEnds";
import { acceptedWay, changesOfDevice } from "~/store/devices";
import { exhibitsOf } from "~/store/exhibits";
import { factHistory } from "~/store/facts";
import { knownAs, knownList } from "~/store/known";
import { runEnd, runsOf, stepsOf } from "~/store/runs";
import { shownOf } from "~/store/shown";

export interface FactLine {
  readonly key: FactKey;
  readonly says: string;
  readonly value: string;
  readonly source: string;
  readonly by: string;
  readonly at: string;
  /** A newer word against it: it has to be read again. */
  readonly contradictedBy: string | null;
  readonly older: readonly {
    readonly value: string;
    readonly source: string;
    readonly at: string;
    readonly by: string;
  }[];
}

/** Every fact of a device with its source, and what it was before. */
export function factLines(history: readonly Fact[]): FactLine[] {
  const current = currentFacts(history);
  return FACT_KEYS.flatMap((key) => {
    const fact = current.get(key);
    if (!fact) return [];
    const older = history
      .filter((f) => f.key === key && !(f.at === fact.at && f.source === fact.source && f.value === fact.value))
      .map((f) => ({ value: factText(f.value), source: SOURCE_WORDS[f.source], at: f.at, by: f.by }))
      .reverse();
    return [
      {
        key,
        says: FACTS[key].says,
        value: factText(fact.value),
        source: SOURCE_WORDS[fact.source],
        by: fact.by,
        at: fact.at,
        contradictedBy: fact.contradictedBy
          ? `${factText(fact.contradictedBy.value)}, ${SOURCE_WORDS[fact.contradictedBy.source]}, ${fact.contradictedBy.by}`
          : null,
        older,
      },
    ];
  });
}

export interface HistoryLine {
  readonly at: string;
  readonly by: string;
  readonly says: string;
  /** Facts written together that can be taken back together: where they came from. */
  readonly undo?: FactSource;
}

/** Everything that happened to a device, newest first. */
export function historyOf(store: Store, device: number, personal: boolean): HistoryLine[] {
  const lines: HistoryLine[] = [];
  const groups = groupedBy(
    factHistory(store, device),
    ({ at, by, source, undone }) => `${at}|${by}|${source}|${undone?.at ?? ""}`,
  );
  for (const group of groups.values()) {
    const [{ at, by, source, undone }] = group;
    const what = group.map((f) => `${asClause(FACTS[f.key].says)} ${factText(f.value)}`).join(", ");
    // What a run has made of a device is taken back at the bench, with the run.
    lines.push({
      at,
      by,
      says: `${SOURCE_WORDS[source]}: ${what}`,
      ...(undone || source === "run" ? {} : { undo: source }),
    });
    if (undone) lines.push({ ...undone, says: `Taken back: ${what}` });
  }
  for (const e of clearanceEvents(store, device))
    lines.push({
      at: e.at,
      by: e.by,
      says: clearanceLine(CLEARANCE_EVENTS[e.event].says, CLEARANCE_STATES[e.state].says, personal ? e.evidence : ""),
    });
  if (personal)
    for (const { at, by, what } of shownOf(store, device)) lines.push({ at, by, says: `Shown whole: ${what}` });
  for (const d of decisionsOf(store, device)) {
    const way = acceptedWay(d);
    lines.push({
      at: d.at,
      by: d.by,
      says: way
        ? `Way accepted: to Android ${way.release}${d.reason ? ` (not the proposed one: ${d.reason})` : ""}`
        : `Accepted way taken back${d.reason && d.reason !== "taken back" ? ` (${d.reason})` : ""}`,
    });
  }
  for (const e of exhibitsOf(store, device)) {
    lines.push({ at: e.at, by: e.by, says: `Photo or paper kept: ${e.name}, SHA-256 ${e.digest.slice(0, 12)}…` });
    if (e.removed) lines.push({ at: e.removed, by: "", says: `Photo or paper taken away: ${e.name}` });
  }
  for (const a of asideHistory(store, device))
    lines.push({
      at: a.at,
      by: a.by,
      says: `${a.state === "aside" ? "Set aside" : "Back in the lane"}: ${asClause(DANGERS[a.kind].says)}${a.note ? ` (${a.note})` : ""}`,
    });
  for (const c of changesOfDevice(store, device)) lines.push({ at: c.at, by: c.by, says: "Details changed" });
  for (const run of runsOf(store, device)) {
    lines.push({ at: run.at, by: run.by, says: "Run begun at the bench" });
    for (const s of stepsOf(store, run.id))
      if (s.outcome === "wrong") lines.push({ at: s.at, by: s.by, says: `Step ${s.place + 1} went wrong: ${s.note}` });
    const stopped = runEnd(store, run.id);
    if (stopped)
      lines.push({
        at: stopped.at,
        by: stopped.by,
        says: `Run ended at step ${stopped.place + 1}: ${RUN_END_WORDS[stopped.result]} (${stopped.seen})`,
      });
    const end = checkoutEnd(store, run.id);
    if (end)
      lines.push({
        at: end.at,
        by: end.by,
        says: end.result === "done" ? "Checked out, done" : `Back to the bench: ${end.note}`,
      });
  }
  for (const e of deviceEnds(store, device))
    lines.push({
      at: e.at,
      by: e.by,
      says: e.result === "open" ? "Back onto the lane" : `Goes no further: ${DEVICE_END_WORDS[e.result]} (${e.reason})`,
    });
  return lines.sort((a, b) => (a.at < b.at ? 1 : -1));
}

/** An event of the case; the state it leads to only where the event's name does not say it already. */
const clearanceLine = (event: string, state: string, evidence: string) =>
  `Clearance: ${event}${event.toLowerCase() === state.toLowerCase() ? "" : `, now “${state}”`}${evidence ? ` (${evidence})` : ""}`;

/** What is asked of a device whose model is not known: what tells the candidates apart, and what the users' list knows. */
export function whoIsIt(store: Store, device: PlannedDevice) {
  const index = indexOf(store);
  const identity = index.identify(device.facts);
  const titleOf = (id: string) => {
    const model = index.models.get(id);
    return model ? modelWithCode(model) : id;
  };
  const distinction = identity.kind === "several" ? identity.distinction : null;
  const names = (["model.number", "model.codename", "model.name"] as const).flatMap((key) => {
    const value = currentValue(device.facts, key);
    return value === undefined ? [] : [value];
  });
  const known = names.map((name) => knownAs(store, name)).find((found) => found.length > 0) ?? [];
  return {
    says: identity.kind === "contradiction" ? identity.says : null,
    distinction: distinction && {
      ...distinction,
      answers: distinction.answers.map((a) => ({ value: a.value, models: a.models.map(titleOf) })),
    },
    known: known.slice(0, 8),
    hasList: knownList(store) !== null,
  };
}
export type Who = ReturnType<typeof whoIsIt>;
