import { acceptWay } from "~/app/server/planning/decide";
import { plannedDevice } from "~/app/server/planning/planning";
import type { FactKey, FactValue } from "~/core/device/fact";
import { currentFacts, currentValue } from "~/core/device/lookUp";
import type { IdentityCopy } from "~/core/runbook/identityCopy";
import type { Step } from "~/core/runbook/step";
import type { Store } from "~/store/database";
import { findStanding, type Standing } from "~/store/devices";
import { appendFacts, factsOf } from "~/store/facts";
import { acceptedOf } from "./accepted";
import { actAtBench } from "./actAtBench";
import { runbookOf } from "./runbooks";

// What the tests of the loop do at the bench: accept a way, work its sheet, end a run.

/** What time it is: a minute later with everything that somebody does. */
export let clock = Date.parse("2026-12-01T09:00:00Z");
export const hand = () => {
  clock += 60_000;
  return { by: "Aleena", at: new Date(clock).toISOString() };
};

export const standing = (store: Store, tag: string): Standing => {
  const found = findStanding(store, tag);
  if (!found) throw new Error(tag);
  return found;
};
export const plan = (store: Store, tag: string) => plannedDevice(store, standing(store, tag)).plan;
export const fact = (store: Store, tag: string, key: FactKey) =>
  currentValue(currentFacts(factsOf(store, standing(store, tag).id)), key);
export const say = (store: Store, tag: string, key: FactKey, value: FactValue, source: "typed" | "read" = "read") =>
  appendFacts(store, standing(store, tag).id, [{ key, value, source, ...hand() }]);

export function accept(store: Store, tag: string, image: string) {
  const way = plan(store, tag).ways.find((w) => w.image === image);
  if (!way) throw new Error(`${tag} has no way to ${image}`);
  expect(acceptWay(store, [tag], way.id, "as the test wants it", hand())).toBeNull();
  return way;
}

export function sheet(store: Store, tag: string) {
  const found = runbookOf(store, tag);
  if (!found.ok) throw new Error(found.says);
  return found.runbook;
}

/** Does the steps of a run up to the first one that is told by its code. */
export function work(store: Store, tag: string, until: (code: string) => boolean): number {
  if (!acceptedOf(store, standing(store, tag)).run)
    expect(actAtBench(store, tag, { act: "begin", place: 0, note: "", yes: false }, hand())).toBeNull();
  const { steps } = sheet(store, tag);
  const from = doneOf(store, tag);
  for (const [place, step] of steps.entries()) {
    if (until(step.code)) return place;
    if (place < from) continue;
    expect(
      actAtBench(store, tag, { act: "done", place, note: "", yes: true, copies: copiesOf(step) }, hand()),
    ).toBeNull();
  }
  return steps.length;
}

export const doneOf = (store: Store, tag: string) => acceptedOf(store, standing(store, tag)).run?.done ?? 0;

/** What a volunteer writes down where the sheet asks for the device's own partitions. */
export const copiesOf = ({ deed }: Step): IdentityCopy[] =>
  deed.kind === "gate" && deed.gate.kind === "keep"
    ? deed.gate.partitions.map((partition) => ({
        partition,
        file: `${partition}.img`,
        bytes: 4096,
        sha256: "a".repeat(64),
      }))
    : [];

export const end = (store: Store, tag: string, how: string, note = "the animation runs for ever") =>
  actAtBench(store, tag, { act: "end", place: 0, note, yes: false, end: how }, hand());
