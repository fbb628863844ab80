import { makeCatalogue, makeImage, makeModel } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { companionsOf } from "./companions";

const pair = { a: "rom", b: "add-on-new", says: "they fight", source: "test", on: "2026-01-01" };
const index = indexCatalogue(
  makeCatalogue({
    models: [makeModel({ id: "m" }), makeModel({ id: "n" })],
    images: [
      makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages", needs: { recoveryVersion: "3" } }, 33),
      makeImage({ id: "rec-old", kind: "recovery", models: ["m"], flavour: "custom", version: "2" }, 33),
      makeImage({ id: "rec", kind: "recovery", models: ["m"], flavour: "custom", version: "3" }, 33),
      makeImage({ id: "rec-other", kind: "recovery", models: ["n"], flavour: "custom", version: "3" }, 33),
      makeImage({ id: "add-on", kind: "services" }, 33),
      makeImage({ id: "add-on-old", kind: "services" }, 30),
      makeImage({ id: "add-on-new", kind: "services" }, 33),
      makeImage({ id: "add-on-arm", kind: "services", cpu: "arm" }, 33),
      makeImage({ id: "stock", kind: "stock", models: ["m"], firmware: "F1", build: "B1" }, 30),
      makeImage({ id: "vb1", kind: "verification", models: ["m"], build: "B1" }, 30),
      makeImage({ id: "vb2", kind: "verification", models: ["m"], build: "B2" }, 30),
    ],
    incompatible: [pair],
  }),
);
const of = (id: string) => {
  const entry = index.images.get(id);
  if (!entry) throw new Error(id);
  return companionsOf(entry, index).map((c) => `${c.image}: ${c.goes ? "goes" : c.code}`);
};

// An add-on for another processor never comes near the model, so it is not named.
test("a ROM with its recoveries and add-ons, each with the planner's own reason", () => {
  expect(of("rom")).toEqual([
    "add-on: goes",
    "rec: goes",
    "add-on-new: pair.incompatible",
    "add-on-old: services.other-release",
    "rec-old: recovery.too-old",
  ]);
  expect(of("rec-old")).toEqual(["rom: recovery.too-old"]);
  expect(of("add-on")).toEqual(["rom: goes"]);
});

test("a stock build with its own verification file only", () => {
  expect(of("stock")).toEqual(["vb1: goes"]);
  expect(of("vb1")).toEqual(["stock: goes"]);
  expect(of("vb2")).toEqual([]);
  expect(of("rec-other")).toEqual([]);
});
