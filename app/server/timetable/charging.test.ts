import { placedDevices } from "~/app/server/planning/lane";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { addDivision } from "~/store/divisions";
import { listGroups } from "~/store/evenings";
import { appendFacts } from "~/store/facts";
import { charge, chargingIn } from "./charging";
import { gatherWork } from "./work";

const at = (clock: string) => new Date(`2026-11-26T${clock}:00`);
const hand = (clock: string) => ({ by: "Odile", at: at(clock).toISOString() });
/** Its battery shows 30 %, and the house wants 60: 36 minutes on a charger. */
const TAG = "SF-05";

const deviceOf = (store: Store) => {
  const device = placedDevices(store, null).find(({ standing }) => standing.tag === TAG);
  if (!device) throw new Error(TAG);
  return device;
};

function divided() {
  const store = demoCopy();
  const { standing } = deviceOf(store);
  const [group] = listGroups(store);
  addDivision(
    store,
    "{}",
    [{ device: standing.id, grp: group.id, way: "any", chance: 0.9, was_need: standing.need }],
    hand("17:00"),
  );
  return store;
}
function jobAt(store: Store, clock: string) {
  const job = gatherWork(store, at(clock)).work.jobs.find(({ device }) => device === TAG);
  const [first, second] = job?.pieces ?? [];
  return { begun: job?.begun ?? null, first: [first.kind, first.minutes], second: second.kind };
}

test("a device that was put on a charger goes on hanging there, and is taken up when its time is over", () => {
  const store = divided();
  const charging = { first: ["charge", 36], second: "hands" };
  expect(jobAt(store, "18:00")).toEqual({ begun: null, ...charging });
  expect(charge(store, TAG, "Back room", hand("18:05"))).toBeNull();
  const begun = { start: 18 * 60 + 5, volunteer: "", bench: "Back room" };
  expect(jobAt(store, "18:20")).toEqual({ begun, ...charging });
  expect(jobAt(store, "18:41")).toMatchObject({ begun: null, first: ["hands", 4] });
});

test("a battery that was read since counts, whatever hung on a charger before", () => {
  const store = divided();
  charge(store, TAG, "Back room", hand("18:05"));
  const read = (percent: number, clock: string) =>
    appendFacts(store, deviceOf(store).standing.id, [
      { key: "battery.percent", value: percent, source: "typed", ...hand(clock) },
    ]);
  read(40, "18:30");
  expect(chargingIn(store)(deviceOf(store))).toMatchObject({ piece: { minutes: 24 }, hangs: null });
  read(61, "18:50");
  expect(chargingIn(store)(deviceOf(store))).toBeNull();
});

test("what is not there is not charged", () => {
  expect(charge(demoCopy(), "XX-1", "", hand("18:00"))).toBe("There is no device XX-1");
});
