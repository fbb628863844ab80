import { allDevices } from "~/app/server/planning/planning";
import { currentFacts, currentValue } from "~/core/device/lookUp";
import { emptyCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { addBatch, addDevices, findStanding } from "~/store/devices";
import { factsOf } from "~/store/facts";
import { loadPack } from "~/store/packs";
import { makeCatalogue, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { setMany } from "./setMany";

const HAND = { by: "Ina", at: "2026-11-27T09:00:00.000Z" };
let store: Store;

beforeEach(() => {
  store = emptyCopy();
  const need = makeNeed({ id: "n", apps: [{ name: "A", minApi: 26 }] });
  loadPack(store, makeCatalogue({ models: [makeModel({ id: "m" })], images: [], needs: [need] }), HAND);
  addBatch(store, { id: "b", title: "B", received: "2026-11-27", note: "" });
  addDevices(
    store,
    "b",
    ["A-1", "A-2", "A-3"].map((tag) => ({
      tag,
      serial: null,
      imei: null,
      donor: "",
      need: null,
      facts: [{ key: "android.release" as const, value: "10", source: "typed" as const, ...HAND }],
    })),
    HAND,
  );
});

const standing = (tag: string) => {
  const found = findStanding(store, tag);
  if (!found) throw new Error(tag);
  return found;
};

test("need, what runs, and a settled lock: for those that are ticked, and no others", () => {
  expect(setMany(store, ["A-1", "A-2"], { what: "need", need: "n" }, HAND)).toBeNull();
  expect(setMany(store, ["A-1", "A-2"], { what: "system", system: "stock" }, HAND)).toBeNull();
  const clear = { what: "clear" as const, proofs: ["set-up-as-new" as const], evidence: "Ina, today: new in its box" };
  expect(setMany(store, ["A-1"], clear, HAND)).toBeNull();
  expect(["A-1", "A-2", "A-3"].map((t) => standing(t).need)).toEqual(["n", "n", null]);
  expect(["A-1", "A-2", "A-3"].map((t) => standing(t).clearance)).toEqual([
    "confirmed-clear",
    "not-looked-at",
    "not-looked-at",
  ]);
  const kind = (tag: string) => currentValue(currentFacts(factsOf(store, standing(tag).id)), "system.kind");
  expect([kind("A-2"), kind("A-3")]).toEqual(["stock", undefined]);
});

test("all or none: one that can't be closed stops the others, and says which", () => {
  const clear = { what: "clear" as const, proofs: ["set-up-as-new" as const], evidence: "Ina, today" };
  expect(setMany(store, ["A-3"], clear, HAND)).toBeNull();
  const wrong = setMany(store, ["A-1", "A-3"], clear, HAND);
  expect(wrong).toMatch(/^A-3: .+ Nothing was written for any of them$/);
  expect(standing("A-1").clearance).toBe("not-looked-at");
  expect(setMany(store, ["A-1"], { ...clear, proofs: [] }, HAND)).toContain("A-1");
  expect(setMany(store, ["A-1", "Z-9"], { what: "system", system: "stock" }, HAND)).toContain("There is no device Z-9");
  expect(allDevices(store).every((d) => d.facts.get("system.kind") === undefined)).toBe(true);
});

test("nothing ticked, a need that is gone, a system that is none: words", () => {
  expect(setMany(store, [], { what: "need", need: "n" }, HAND)).toBe("Tick the devices it is for");
  expect(setMany(store, ["A-1"], { what: "need", need: "gone" }, HAND)).toContain("no such need");
  expect(setMany(store, ["A-1"], { what: "system", system: "windows" }, HAND)).toBe("Choose what runs on them");
});
