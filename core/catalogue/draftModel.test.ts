import { readReadOut } from "~/core/device/readOut";
import { makeFacts } from "~/testing/catalogueEntries";
import { draftModel, modelOfDraft } from "./draftModel";
import { Model, OPEN_PARTS } from "./model";

const READ_OUT = `[ro.product.manufacturer]: [Fennick]
[ro.product.model]: [FN-A5]
[ro.product.device]: [arlo]
[ro.product.board]: [kestrel2]
[ro.product.cpu.abi]: [armeabi-v7a]
[ro.product.first_api_level]: [28]
[ro.treble.enabled]: [false]
[ro.build.ab_update]: [true]
[ro.boot.dynamic_partitions]: [true]
[ro.oem_unlock_supported]: [0]`;

const factsOf = (text: string) => makeFacts(Object.fromEntries(readReadOut(text).facts));

test("a read-out tells maker, names, what it was sold with, processor, slots, partitions, whether it can be unlocked", () => {
  expect(draftModel(factsOf(READ_OUT))).toMatchObject({
    maker: "Fennick",
    modelNumber: "FN-A5",
    codename: "arlo",
    board: "kestrel2",
    launchApi: "9",
    cpu: "arm",
    treble: "no",
    slots: "yes",
    logical: "yes",
    unlockPossible: "no",
    userspaceFastboot: "",
    roomSystem: "",
  });
});

test("the maker's name stands once", () => {
  expect(draftModel(makeFacts({ "model.name": "fennick Arlo 5", "model.maker": "Fennick" })).name).toBe("Arlo 5");
  expect(draftModel(makeFacts({ "model.name": "Fennickson 5", "model.maker": "Fennick" })).name).toBe("Fennickson 5");
});

test("what nobody knows stays open, and is never a no", () => {
  const who = {
    maker: "Fennick",
    name: "Arlo 5",
    modelNumber: "FN-A5",
    codename: "arlo",
    board: "k2",
    form: "phone",
    flash: "fastboot",
  };
  const model = Model.parse(modelOfDraft({ ...draftModel(new Map()), ...who }, "by hand", "2026-11-27"));
  expect([...model.open].sort()).toEqual([...OPEN_PARTS].sort());
  expect(model.hardware).toContain("camera");
  const told = { ...draftModel(factsOf(READ_OUT)), ...who, roomSystem: "3000000000", userspaceFastboot: "no" };
  expect(Model.parse(modelOfDraft(told, "read", "2026-11-27"))).toMatchObject({
    open: ["hardware"],
    treble: false,
    cpu: "arm",
    launchApi: 28,
    unlock: { possible: false },
    room: { system: 3_000_000_000 },
  });
});

test("a release that is none is told, not taken for unknown", () => {
  const draft = { ...draftModel(new Map()), launchApi: "seventeen" };
  expect(modelOfDraft(draft, "by hand", "2026-11-27").launchApi).toBeUndefined();
});
