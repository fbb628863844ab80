import fc from "fast-check";
import type { FactKey } from "~/core/device/fact";
import { currentFacts } from "~/core/device/lookUp";
import { demoCatalogue } from "~/demo/catalogue";
import { identify } from "./identify";
import type { Model } from "./model";
import { stillPossible, tellApart } from "./tellApart";

const { models } = demoCatalogue();
const facts = (given: Partial<Record<FactKey, string | number>>) =>
  currentFacts(
    Object.entries(given).map(([key, value]) => ({
      key: key as FactKey,
      value,
      source: "typed" as const,
      at: "2026-11-25T10:00:00.000Z",
      by: "A",
    })),
  );
const note5 = models.filter((m) => m.names.includes("Note 5"));
const like = (more: Partial<Model>): Model => ({ ...note5[0], ...more });

describe("what tells candidates apart", () => {
  test("one name on two boards: the end of the model number, with what each means", () => {
    const distinction = tellApart(note5, facts({}));
    expect(distinction).toMatchObject({ fact: "model.number", settles: true });
    expect(distinction?.says).toContain(
      "HN5-… (EU or UK: Halvik Note 5 (hazelnook); IN or LA: Halvik Note 5 (birchnook))",
    );
    expect(distinction?.answers.find((a) => a.value === "HN5-IN")?.models).toEqual(["halvik-note5-birch"]);
  });

  test("where the number is known and shared, the screen; then the board; then the partition size", () => {
    const same = { modelNumbers: ["X-1"], codename: "x", cpu: "arm64" as const };
    const a = like({ ...same, id: "a", screen: "5 in", board: "B1" });
    const b = like({ ...same, id: "b", screen: "6 in", board: "B2" });
    expect(tellApart([a, b], facts({}))?.fact).toBe("screen.size");
    expect(tellApart([a, { ...b, screen: null }], facts({}))?.fact).toBe("model.board");
    const sized = { ...b, screen: "5 in", board: "B1", room: { ...b.room, system: 1 } };
    expect(tellApart([a, sized], facts({}))?.fact).toBe("room.system");
    expect(tellApart([a, { ...a, id: "c" }], facts({}))).toBeNull();
  });

  test("one that settles everything is put before an easier one that does not", () => {
    const trio = [
      like({ id: "a", modelNumbers: ["N"], screen: "5 in", board: "1", codename: "a" }),
      like({ id: "b", modelNumbers: ["N"], screen: "5 in", board: "2", codename: "b" }),
      like({ id: "c", modelNumbers: ["N"], screen: "6 in", board: "3", codename: "c" }),
    ];
    expect(tellApart(trio, facts({}))).toMatchObject({ fact: "model.codename", settles: true });
    const twin = trio.map((m) => ({ ...m, board: "1", codename: "x" }));
    expect(tellApart(twin, facts({}))).toMatchObject({ fact: "screen.size", settles: false });
  });

  test("whatever is asked for, every answer leaves fewer candidates, and a settling one leaves one", () => {
    const some = fc.subarray(models, { minLength: 2 });
    fc.assert(
      fc.property(some, (candidates) => {
        const distinction = tellApart(candidates, facts({}));
        if (!distinction) return;
        for (const { value, models: named } of distinction.answers) {
          const given = distinction.fact === "room.system" ? Number(value) : value;
          const left = stillPossible(candidates, facts({ [distinction.fact]: given }));
          expect(left.map((m) => m.id).sort()).toEqual([...named].sort());
          if (distinction.settles) expect(left).toHaveLength(1);
        }
      }),
    );
  });
});

describe("identity", () => {
  test("the answer to what was asked settles it", () => {
    const asked = identify(models, facts({ "model.name": "Note 5" }));
    expect(asked).toMatchObject({ kind: "several", ask: "model.number" });
    expect(identify(models, facts({ "model.name": "Note 5", "screen.size": "6.3 in, 720 × 1520" }))).toMatchObject({
      kind: "one",
      model: { id: "halvik-note5-birch" },
    });
    expect(identify(models, facts({ "model.name": "Note 5", "room.system": note5[0].room.system }))).toMatchObject({
      kind: "one",
      model: { id: note5[0].id },
    });
  });

  test("an observation that fits nobody does not hide the candidates", () => {
    expect(identify(models, facts({ "model.name": "Note 5", "screen.size": "4 in" }))).toMatchObject({
      kind: "several",
      candidates: [{}, {}],
    });
  });
});
