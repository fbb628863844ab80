import { actAtBench, type BenchAsk } from "~/app/server/bench/actAtBench";
import { acceptTonight } from "~/app/server/timetable/acceptTonight";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { appendFacts } from "~/store/facts";
import { gatherWork } from "./work";

const TAG = "TH-021";
const at = (clock: string) => new Date(`2026-11-26T${clock}:00`);
const hand = (by: string, clock: string) => ({ by, at: at(clock).toISOString() });
const minute = (clock: string) => at(clock).getHours() * 60 + at(clock).getMinutes();

function accepted() {
  const store = demoCopy();
  expect(acceptTonight(store, TAG, hand("Odile", "17:00"))).toBeNull();
  return store;
}
function act(store: Store, parts: Pick<BenchAsk, "act"> & Partial<BenchAsk>, by: string, clock: string) {
  expect(actAtBench(store, TAG, { place: 0, note: "", yes: true, ...parts }, hand(by, clock))).toBeNull();
}
const jobAt = (store: Store, clock: string) =>
  gatherWork(store, at(clock)).work.jobs.find(({ device }) => device === TAG);
const inHand = (store: Store, clock: string) => {
  const begun = jobAt(store, clock)?.begun;
  return begun ? [begun.volunteer, begun.start] : null;
};

test("whoever took a device up has it in hand, also before its first step is done", () => {
  const store = accepted();
  expect(inHand(store, "18:00")).toBeNull();
  act(store, { act: "begin" }, "Odile", "18:01");
  expect(inHand(store, "18:02")).toEqual(["Odile", minute("18:01")]);
  act(store, { act: "done" }, "Odile", "18:04");
  expect(inHand(store, "18:05")).toEqual(["Odile", minute("18:04")]);
  expect(inHand(store, "23:00")).toBeNull();
});

test("what went wrong stays with whoever wrote it down, also where the step before it is of another evening", () => {
  const store = accepted();
  act(store, { act: "begin" }, "Odile", "09:00");
  act(store, { act: "done" }, "Odile", "09:01");
  expect(inHand(store, "18:00")).toBeNull();
  act(store, { act: "wrong", place: 1, note: "Nothing moves" }, "Bram", "18:01");
  expect(inHand(store, "18:02")).toEqual(["Bram", minute("18:01")]);
});

test("one pair of hands has one thing in them: what they took up last", () => {
  const store = accepted();
  const other = "TH-006";
  expect(acceptTonight(store, other, hand("Odile", "17:00"))).toBeNull();
  act(store, { act: "begin" }, "Odile", "18:01");
  expect(actAtBench(store, other, { act: "begin", place: 0, note: "", yes: true }, hand("Odile", "18:03"))).toBeNull();
  expect(inHand(store, "18:04")).toBeNull();
});

test("a flat battery is not what a device waits for that stands with something wrong", () => {
  const store = accepted();
  const { id = 0 } = findStanding(store, TAG) ?? {};
  appendFacts(store, id, [{ key: "battery.percent", value: 30, source: "typed", ...hand("Odile", "17:30") }]);
  act(store, { act: "begin" }, "Odile", "18:01");
  expect(jobAt(store, "18:02")?.pieces[0].kind).toBe("charge");
  act(store, { act: "wrong", note: "Nothing moves" }, "Odile", "18:03");
  expect(jobAt(store, "18:04")?.pieces[0].kind).toBe("hands");
  expect(inHand(store, "18:04")).toEqual(["Odile", minute("18:03")]);
  act(store, { act: "again" }, "Odile", "18:05");
  expect(jobAt(store, "18:06")?.pieces[0].kind).toBe("charge");
});
