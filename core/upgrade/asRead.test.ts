import type { Model } from "~/core/catalogue/model";
import type { FactKey, FactValue } from "~/core/device/fact";
import { makeFacts, makeModel } from "~/testing/catalogueEntries";
import { asRead } from "./asRead";

type Over = Partial<Record<Exclude<keyof Model, "id">, unknown>>;
const read = (over: Over, facts: Partial<Record<FactKey, FactValue>>) => {
  const model = makeModel({ id: "m", ...over });
  return { model, read: asRead(model, makeFacts(facts)) };
};

test.each<[string, Over, Partial<Record<FactKey, FactValue>>, Over]>([
  ["two slots", { slots: false }, { "slots.count": 2 }, { slots: true }],
  ["one slot", { slots: true }, { "slots.count": 1 }, { slots: false }],
  ["inside a super partition", { logical: false }, { "partitions.logical": true }, { logical: true }],
  ["a userspace fastboot", { userspaceFastboot: false }, { "fastboot.userspace": true }, { userspaceFastboot: true }],
  ["another processor", { cpu: "arm64" }, { "cpu.arch": "arm" }, { cpu: "arm" }],
  [
    "a vendor interface, sold too early for one",
    { launchApi: 25, treble: true },
    { "treble.supported": true },
    { treble: true },
  ],
  [
    "none, though the record says so",
    { launchApi: 30, treble: true },
    { "treble.supported": false },
    { treble: false },
  ],
  ["sold with Android 7.1: none by the record alone", { launchApi: 25, treble: true }, {}, { treble: false }],
  ["sold with Android 8.0: as the record has it", { launchApi: 26, treble: true }, {}, { treble: true }],
  [
    "the sale that was read decides too",
    { launchApi: 30, treble: true },
    { "launch.api": 25 },
    { launchApi: 25, treble: false },
  ],
])("%s: what was read wins", (_what, over, facts, wanted) => expect(read(over, facts).read).toMatchObject(wanted));

describe("room", () => {
  const room = { system: 100, product: 50, recovery: 7 };
  test("what was read, each by itself", () => {
    expect(read({ room }, { "room.system": 90 }).read.room).toMatchObject({ ...room, system: 90 });
    expect(read({ room }, { "room.product": 40 }).read.room).toMatchObject({ ...room, product: 40 });
  });
  test("a product partition that frees nothing is none to remove", () =>
    expect(read({ room }, { "room.product": 0 }).read.room.product).toBeNull());
  test("nothing read: the record's own, and the very same record", () => {
    const { model, read: same } = read({ room }, {});
    expect(same).toBe(model);
  });
});

describe("what a record leaves open", () => {
  test("is open until it was read on this device", () => {
    expect(read({ open: ["cpu", "treble"] }, {}).read.open).toEqual(["cpu", "treble"]);
    expect(read({ open: ["cpu", "treble"] }, { "cpu.arch": "arm" }).read.open).toEqual(["treble"]);
  });
  test("whether it can be unlocked is believed to the device only where the record leaves it open", () => {
    const unlock = makeModel({ id: "m" }).unlock;
    const could = { unlock: { ...unlock, possible: true } };
    expect(read({ ...could, open: ["unlock"] }, { "unlock.ability": false }).read.unlock.possible).toBe(false);
    expect(read(could, { "unlock.ability": false }).read.unlock.possible).toBe(true);
    expect(read({ ...could, open: ["unlock"] }, {}).read.unlock.possible).toBe(true);
  });
});
