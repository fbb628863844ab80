import { currentValue } from "~/core/device/lookUp";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { findRun, positionOf, stepsOf } from "~/store/runs";
import { plannedDevice } from "../planning/planning";
import { actAtBench } from "./actAtBench";
import { goBackTo } from "./goBackTo";
import { runbookOf } from "./runbooks";

const hand = { by: "Aleena", at: "2026-11-25T10:00:00.000Z" };
const TAG = "TH-010";

function standing(store: Store) {
  const found = findStanding(store, TAG);
  if (!found) throw new Error(TAG);
  return found;
}
const place = (store: Store) => {
  const run = findRun(store, standing(store).id);
  return run ? positionOf(stepsOf(store, run.id), run.steps).place : -1;
};

/** A run of the demo, its steps done up to the one with a code. */
function runTo(store: Store, code: string): number {
  if (place(store) < 0) actAtBench(store, TAG, { act: "begin", place: 0, note: "", yes: false }, hand);
  const sheet = runbookOf(store, TAG);
  if (!sheet.ok) throw new Error(sheet.says);
  const to = sheet.runbook.steps.findIndex((s) => s.code.startsWith(code));
  for (let at = place(store); at < to; at++)
    expect(actAtBench(store, TAG, { act: "done", place: at, note: "", yes: true }, hand)).toBeNull();
  return to;
}

test("going back takes every step behind it back, with what it made of the device", () => {
  const store = demoCopy();
  const to = runTo(store, "android.enable-debugging");
  const signedOut = () => currentValue(plannedDevice(store, standing(store)).facts, "accounts.on");
  expect(signedOut()).toBe(false);
  expect(goBackTo(store, TAG, to, 1, hand)).toBeNull();
  expect(place(store)).toBe(1);
  expect(signedOut()).not.toBe(false);
});

test("from a step that went wrong too; not to a later one, not from a page that is old", () => {
  const store = demoCopy();
  const at = runTo(store, "android.enable-debugging");
  expect(actAtBench(store, TAG, { act: "wrong", place: at, note: "nothing shows", yes: false }, hand)).toBeNull();
  expect(goBackTo(store, TAG, at, at + 1, hand)).toContain("done before this one");
  expect(goBackTo(store, TAG, at - 1, 0, hand)).toContain("reload before you go back");
  expect(goBackTo(store, TAG, at, Number.NaN, hand)).toContain("Choose a step");
  expect(place(store)).toBe(at);
  expect(goBackTo(store, TAG, at, at - 1, hand)).toBeNull();
  expect(place(store)).toBe(at - 1);
});
