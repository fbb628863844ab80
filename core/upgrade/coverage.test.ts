import { REASON_RULES } from "~/core/ways/reasons";
import { demoCatalogue } from "~/demo/catalogue";
import { makeCatalogue, makeImage, makeModel } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { coverage, coverageOf } from "./coverage";

const GiB = 1_073_741_824;
const cellOf = (
  model: ReturnType<typeof makeModel>,
  images: ReturnType<typeof makeImage>[],
  id: string,
  pairs: object[] = [],
) => {
  const index = indexCatalogue({ ...makeCatalogue({ models: [model], images }), incompatible: pairs as never });
  const entry = index.images.get(id);
  if (!entry) throw new Error(id);
  const cell = coverageOf(model, entry, index);
  return cell && [cell.state, cell.code];
};
const m = makeModel({
  id: "m",
  logical: true,
  userspaceFastboot: true,
  room: { system: GiB / 2, product: GiB / 4, recovery: GiB },
});
const rom = makeImage(
  { id: "rom", kind: "rom", models: ["m"], installs: "packages", files: [{ name: "rom.zip", bytes: 900_000_000 }] },
  33,
);
const recovery = makeImage({ id: "rec", kind: "recovery", models: ["m"], flavour: "custom" }, 33);
const gsi = makeImage({ id: "gsi", kind: "gsi", cpu: "arm64" }, 33);
const vbmeta = makeImage({ id: "vb", kind: "verification", models: ["m"], build: "B" }, 28);

describe("coverage", () => {
  test.each([
    [
      "made for another board",
      [makeImage({ id: "x", kind: "rom", models: ["n"], installs: "packages" }, 33)],
      "x",
      null,
    ],
    ["a ROM with its recovery", [rom, recovery], "rom", ["good", null]],
    ["a ROM without one", [rom], "rom", ["stopped", "recovery.missing"]],
    [
      "a ROM whose only recovery is of another kind",
      [rom, makeImage({ id: "r", kind: "recovery", models: ["m"], flavour: "rom" }, 33)],
      "rom",
      ["stopped", "recovery.missing"],
    ],
    ["a generic image too large, product removed", [gsi, vbmeta], "gsi", ["stopped", "gsi.room"]],
    ["another processor", [makeImage({ id: "g", kind: "gsi", cpu: "arm" }, 30), vbmeta], "g", ["stopped", "image.cpu"]],
    [
      "withdrawn",
      [{ ...rom, withdrawn: { on: "2025-01-01", says: "bad", successor: null } }, recovery],
      "rom",
      ["withdrawn", "image.withdrawn"],
    ],
    [
      "known faults",
      [{ ...rom, faults: [{ hardware: "camera" as const, models: [], says: "Camera is dark" }] }, recovery],
      "rom",
      ["faults", null],
    ],
  ])("%s", (_name, images, id, expected) => expect(cellOf(m, images, id)).toEqual(expected));

  test("locked for good, a pair that does not work, a generic image without a verification file", () => {
    expect(cellOf({ ...m, unlock: { ...m.unlock, possible: false } }, [rom, recovery], "rom")).toEqual([
      "stopped",
      "unlock.impossible",
    ]);
    const pair = { a: "rom", b: "rec", says: "they fight", source: "s", on: "2025-01-01" };
    expect(cellOf(m, [rom, recovery], "rom", [pair])).toEqual(["stopped", "pair.incompatible"]);
    const roomy = { ...m, room: { ...m.room, system: 2 * GiB } };
    expect(cellOf(roomy, [gsi], "gsi")).toEqual(["stopped", "verification.missing"]);
    expect(cellOf(roomy, [gsi, vbmeta], "gsi")).toEqual(["good", null]);
  });

  test("of two ways to unlock, the one through the model's interface says why it is locked for good", () => {
    const never = { unlock: { ...m.unlock, possible: false } };
    const download = {
      flash: "download-mode" as const,
      download: { edition: "five-slots", enter: "hold both" } as never,
    };
    const through = { ...rom, id: "r2", models: ["m"] };
    expect(cellOf({ ...m, ...never, ...download }, [through, recovery], "r2")).toEqual([
      "stopped",
      "unlock.impossible",
    ]);
  });

  const gone = { withdrawn: { on: "2025-01-01", says: "bad", successor: null } };
  test("what is withdrawn is no companion", () => {
    expect(cellOf(m, [rom, { ...recovery, ...gone }], "rom")).toEqual(["stopped", "recovery.missing"]);
    const roomy = { ...m, room: { ...m.room, system: 2 * GiB } };
    expect(cellOf(roomy, [gsi, { ...vbmeta, ...gone }], "gsi")).toEqual(["stopped", "verification.missing"]);
  });

  test("a recovery or an add-on needs no recovery of its own", () => {
    expect(cellOf(m, [recovery], "rec")).toEqual(["good", null]);
    expect(cellOf(m, [makeImage({ id: "add", kind: "services" }, 33)], "add")).toEqual(["good", null]);
  });

  test("of several recoveries one that goes is enough; of several reasons that of one of the right kind is told", () => {
    const asks = { ...rom, needs: { ...rom.needs, recoveryVersion: "3" } };
    const old = { ...recovery, id: "old", version: "2" };
    const own = makeImage({ id: "own", kind: "recovery", models: ["m"], flavour: "rom" }, 33);
    expect(cellOf(m, [asks, old, { ...recovery, version: "3" }], "rom")).toEqual(["good", null]);
    expect(cellOf(m, [asks, own, old], "rom")).toEqual(["stopped", "recovery.too-old"]);
    expect(cellOf(m, [asks, old, own], "rom")).toEqual(["stopped", "recovery.too-old"]);
  });

  test("the demo: every cell has a reason where it is stopped, every reason a rule in words", () => {
    const cells = coverage(indexCatalogue(demoCatalogue()));
    expect(cells.length).toBeGreaterThan(80);
    for (const cell of cells) {
      expect(cell.says).not.toBe("");
      if (cell.state === "stopped") expect(REASON_RULES[cell.code as keyof typeof REASON_RULES]).toBeTruthy();
    }
    expect(new Set(cells.map((c) => c.state))).toEqual(new Set(["good", "faults", "stopped", "withdrawn"]));
  });
});
