import { acceptWay } from "~/app/server/planning/decide";
import { housePolicy } from "~/app/server/planning/housePolicy";
import { allDevices, plannedDevice, waysUnder } from "~/app/server/planning/planning";
import { BenchFields, type Host, hostOfHouse } from "~/core/lane/bench";
import { demoCopy } from "~/demo/demoCopy";
import { addBench, benchOfRun, changeBench, lastBenchOf, listBenches } from "~/store/benches";
import { StaleEdit, type Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { findRun } from "~/store/runs";
import { actAtBench } from "./actAtBench";
import { runbookOf } from "./runbooks";

const HAND = { by: "Aleena", at: "2026-12-01T09:00:00.000Z" };
/** Waits for nothing, and its way goes over a lead. */
const TAG = "TH-021";

function house(...hosts: Host[]) {
  const store = demoCopy();
  for (const bench of listBenches(store)) changeBench(store, bench.id, bench.version, { ...bench, closed: true }, HAND);
  for (const host of hosts)
    expect(
      addBench(
        store,
        { name: `At the ${host}`, host, places: 2, leads: 2, chargers: 1, cards: null, sticks: null },
        HAND,
      ),
    ).toBeNull();
  return store;
}
const standing = (store: Store) => {
  const found = findStanding(store, TAG);
  if (!found) throw new Error(TAG);
  return found;
};
const benchId = (store: Store, host: Host) => listBenches(store).find((b) => b.name === `At the ${host}`)?.id ?? 0;
const begin = (store: Store, bench: number | null) =>
  actAtBench(store, TAG, { act: "begin", place: 0, note: "", yes: false, bench }, HAND);

function accept(store: Store) {
  const [way] = plannedDevice(store, standing(store)).plan.ways;
  expect(acceptWay(store, [TAG], way.id, "as the test wants it", HAND)).toBeNull();
}

test("a way is open when one bench can go it, and falls out with the last", () => {
  const store = house("none", "computer");
  const stopped = () => allDevices(store).flatMap((d) => d.plan.stops.filter((s) => s.code === "host.none")).length;
  expect(stopped()).toBe(0);
  const computer = listBenches(store).find((b) => b.name === "At the computer");
  if (!computer) throw new Error("no bench");
  changeBench(store, computer.id, computer.version, { ...computer, closed: true }, HAND);
  expect(stopped()).toBeGreaterThan(10);
});

test("at a bench without a host the way is not begun, at the one with a computer it is", () => {
  const store = house("none", "computer");
  accept(store);
  expect(begin(store, benchId(store, "none"))).toBe(
    "At the none works with neither: only what a device does by itself, and this way can't be gone there. Begin it at another bench",
  );
  expect(findRun(store, standing(store).id)).toBeUndefined();
  expect(begin(store, benchId(store, "computer"))).toBeNull();
  const run = findRun(store, standing(store).id);
  expect(benchOfRun(store, run?.id ?? 0)).toEqual({ name: "At the computer", host: "computer" });
  expect(lastBenchOf(store, "Aleena")).toBe("At the computer");
  expect(lastBenchOf(store, "Somebody")).toBeNull();
});

test("the sheet is written for what stands at the bench", () => {
  const store = house("computer", "second-phone");
  accept(store);
  const words = () => {
    const sheet = runbookOf(store, TAG);
    return sheet.ok ? JSON.stringify(sheet.runbook.steps) : sheet.says;
  };
  expect(words()).not.toContain("second phone");
  expect(begin(store, benchId(store, "second-phone"))).toBeNull();
  expect(words()).toContain("second phone");
});

test("what own runs taught counts at every bench: under the house's own policy its ways are those of the plan", () => {
  const store = house("computer");
  const policy = housePolicy(store);
  const planned = allDevices(store).filter((d) => d.plan.ways.length > 0);
  expect(planned.length).toBeGreaterThan(20);
  expect(planned.some((d) => d.plan.ways.some((w) => w.learned.length > 0))).toBe(true);
  for (const device of planned) expect(waysUnder(store, device, policy)).toEqual(device.plan.ways);
});

test("a bench that is closed, or none of ours, begins nothing", () => {
  const store = house("computer");
  accept(store);
  const closed = listBenches(store).find((b) => b.closed);
  for (const id of [closed?.id ?? 999, 12_345])
    expect(begin(store, id)).toBe("That bench is not there any more. Choose another one");
  expect(findRun(store, standing(store).id)).toBeUndefined();
});

test("two of one name, and an edit on an old page, are told", () => {
  const store = house("computer", "none");
  expect(
    addBench(
      store,
      { name: "at the COMPUTER", host: "none", places: 1, leads: 0, chargers: 0, cards: null, sticks: null },
      HAND,
    ),
  ).toContain("already");
  const bench = listBenches(store).find((b) => b.name === "At the none");
  if (!bench) throw new Error("no bench");
  expect(
    changeBench(store, bench.id, bench.version, { ...bench, name: "At the computer", closed: false }, HAND),
  ).toContain("already");
  changeBench(store, bench.id, bench.version, { ...bench, places: 3, closed: false }, HAND);
  expect(() => changeBench(store, bench.id, bench.version, { ...bench, closed: false }, HAND)).toThrow(StaleEdit);
});

test.each<[Host[], Host, Host]>([
  [[], "computer", "computer"],
  [[], "none", "none"],
  [["none"], "computer", "none"],
  [["none", "second-phone"], "none", "second-phone"],
  [["second-phone", "computer", "none"], "none", "computer"],
])("a house with %j under a policy of %s works with %s", (hosts, policy, wanted) => {
  expect(
    hostOfHouse(
      hosts.map((host) => ({ host })),
      policy,
    ),
  ).toBe(wanted);
});

test("numbers that are none are told, and an empty field is no zero", () => {
  const fields = { name: "A", host: "computer", places: "4", leads: "4", chargers: "0" };
  expect(BenchFields.safeParse(fields).success).toBe(true);
  for (const bad of [
    { leads: "" },
    { places: "0" },
    { places: "1.5" },
    { chargers: "-1" },
    { places: "1e2" },
    { leads: "999" },
  ])
    expect(BenchFields.safeParse({ ...fields, ...bad }).success).toBe(false);
});
