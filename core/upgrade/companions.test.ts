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

describe("recoveries that count as one", () => {
  const recovery = (id: string, over: object) =>
    makeImage({ id, kind: "recovery", models: ["m"], flavour: "custom", version: "3", ...over }, 33);
  const fight = (a: string, b: string) => ({ a, b, says: "they fight", source: "test", on: "2026-01-01" });
  const { recoveryClass } = indexCatalogue(
    makeCatalogue({
      models: [makeModel({ id: "m" })],
      images: [
        makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages" }, 33),
        makeImage({ id: "rom2", kind: "rom", models: ["m"], installs: "packages" }, 33),
        recovery("a", {}),
        recovery("same", {}),
        recovery("later", { version: "4" }),
        recovery("own", { flavour: "rom" }),
        recovery("own-later", { flavour: "rom", version: "4" }),
        makeImage({ id: "own-other", kind: "recovery", models: ["m"], flavour: "rom", version: "3" }, 30),
        recovery("enemy", {}),
        recovery("enemy-too", {}),
        recovery("enemy-of-two", {}),
        recovery("enemy-of-two-too", {}),
      ],
      incompatible: [
        fight("enemy", "rom"),
        fight("rom", "enemy-too"),
        fight("enemy-of-two", "rom"),
        fight("enemy-of-two", "rom2"),
        fight("rom2", "enemy-of-two-too"),
        fight("enemy-of-two-too", "rom"),
      ],
    }),
  );
  test.each([
    ["two of one version", "a", "same", true],
    ["another version", "a", "later", false],
    ["a ROM's own is told by its release, not its version", "own", "own-later", true],
    ["a ROM's own of another release", "own", "own-other", false],
    ["a custom one and a ROM's own", "a", "own", false],
    ["one that fights with something", "a", "enemy", false],
    ["two that fight with the same, whichever way round that is written", "enemy", "enemy-too", true],
    ["one that fights with more", "enemy", "enemy-of-two", false],
    ["in whatever order that is written", "enemy-of-two", "enemy-of-two-too", true],
  ])("%s", (_what, one, two, same) => expect(recoveryClass(one) === recoveryClass(two)).toBe(same));
  test("one that nobody knows is itself", () => expect(recoveryClass("nobody")).toBe("nobody"));
});
