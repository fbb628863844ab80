import type { FactKey, FactValue } from "~/core/device/fact";
import { behindGeneric } from "~/core/ways/generic-image/behindGeneric";
import { makeCatalogue, makeFacts, makeImage, makeModel } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { after, initialState, type PlanState, planDeviceOf } from "./state";
import { changedFacts, interruptedFacts } from "./stateFacts";

const model = makeModel({ id: "m" });
const named = { models: ["m"], flavour: "custom", version: "3.7" };
const index = indexCatalogue(
  makeCatalogue({
    models: [model],
    images: [
      makeImage({ id: "rec", kind: "recovery", title: "Lantern 3.7", ...named }, 33),
      makeImage({ id: "rom", kind: "rom", title: "Tallgrass 13", models: ["m"], installs: "packages" }, 33),
      makeImage({ id: "gsi", kind: "gsi", cpu: "arm64", patch: "2023-05-05" }, 33),
    ],
  }),
);
const begins = (facts: Partial<Record<FactKey, FactValue>>) =>
  initialState(planDeviceOf(model, makeFacts({ "bootloader.locked": false, ...facts })), index);

test.each([
  ["stock", "stock"],
  ["Stock", "stock"],
  ["rec", "rec"],
  ["lantern 3.7", "rec"],
  ["Lantern 3.6", "Lantern 3.6"],
  // Neither the title of a system nor a word that has the other in it is the maker's own.
  ["Tallgrass 13", "Tallgrass 13"],
  ["stockish", "stockish"],
  ["not stock", "not stock"],
])("a recovery written as %j is %j", (text, recovery) => {
  expect(begins({ "recovery.image": text }).recovery).toBe(recovery);
});

describe("behind a generic image", () => {
  const gsi = index.images.get("gsi");
  const behind = (over: Partial<PlanState>) => {
    if (!gsi) throw new Error("no gsi");
    return behindGeneric(after(begins({ "android.release": "11", "system.kind": "stock" }), over), gsi, "clean");
  };
  const assumed: FactKey[] = ["build.number", "android.release", "system.kind", "services.addon", "slot.current"];

  test("what was open about the stock system is open about the base", () =>
    expect(behind({ system: "stock", assumed }).assumed).toEqual(["slot.current", "base.build", "base.release"]));
  test("what was known of it stays known", () => {
    expect(behind({ system: "stock", assumed: ["slot.current"] }).assumed).toEqual(["slot.current"]);
    expect(behind({ system: "stock", assumed: ["build.number"] }).assumed).toEqual(["base.build"]);
    expect(behind({ system: "stock", assumed: ["android.release"] }).assumed).toEqual(["base.release"]);
  });
  test("what was open about an earlier generic image is gone", () =>
    expect(behind({ system: "generic", assumed }).assumed).toEqual(["slot.current"]));
  test("it is on it, fresh, without services, and nothing is whole", () =>
    expect(behind({ system: "stock", whole: true })).toMatchObject({
      ...{ system: "generic", image: "gsi", api: 33, patch: "2023-05-05", services: null },
      ...{ storage: "clean", started: "fresh", whole: false },
    }));
});

const changedBy = (s: PlanState, change: Partial<PlanState>) => changedFacts(s, after(s, change), index);

describe("a boot state that was read tells of the lock as it was", () => {
  const green = begins({ "bootloader.locked": true, "boot.state": "green", "android.release": "11" });
  const open = after(green, { locked: false, storage: "clean" });

  test("once the lock has changed it is not known any more, and what it told of the system is said instead", () => {
    expect(green.system).toBe("stock");
    expect(changedBy(green, { locked: false, storage: "clean" })).toMatchObject({
      "boot.state": null,
      "system.kind": "stock",
    });
    expect(changedBy(open, { locked: true })).toMatchObject({ "boot.state": null });
    expect(changedBy(open, { storage: "workshop" })).not.toHaveProperty(["boot.state"]);
  });
  test("what a lock tells unread, that every part is the maker's, is said once it is open", () => {
    const told = { "recovery.image": "stock", "verification.off": false, "product.removed": false };
    expect(changedBy(green, { locked: false })).toMatchObject(told);
    expect(interruptedFacts(green, open, false, index)).toMatchObject(told);
    expect(changedBy(green, { storage: "workshop" })).not.toHaveProperty(["recovery.image"]);
  });
  test("also where that was not finished: the system that was on it still is", () => {
    const told = interruptedFacts(green, open, false, index);
    expect(told).toMatchObject({ "boot.state": null, "bootloader.locked": null, "system.kind": "stock" });
  });
  test("what nobody knew before is not known behind it either", () => {
    const asked = begins({ "bootloader.locked": true, "android.release": "11" });
    expect(changedBy(asked, { locked: false, assumed: ["system.kind"] })).not.toHaveProperty(["system.kind"]);
  });
});
