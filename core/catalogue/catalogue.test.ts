import { Policy } from "~/core/policy/policy";
import { makeCatalogue, makeFacts, makeImage, makeModel } from "~/testing/catalogueEntries";
import { checkReferences, readPack } from "./catalogue";
import { identify } from "./identify";
import { expandedBytes, imageBytes } from "./image";
import { floorOf } from "./need";

const whole = makeCatalogue({
  models: [makeModel({ id: "m" })],
  images: [
    makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages" }, 33),
    makeImage({ id: "old", kind: "rom", models: ["m"], installs: "packages" }, 30),
  ],
});

const HEAD = { format: "upshift-lane-catalogue", version: 1 };

/** Problems of the whole catalogue with one thing changed. */
function problems(change: (c: Record<string, never> & typeof whole) => void): string[] {
  const copy = structuredClone(whole) as never as Parameters<typeof change>[0];
  change(copy);
  const read = readPack(JSON.stringify({ ...HEAD, ...copy }));
  return (read.ok ? checkReferences(read.pack) : read.problems).map((p) => `${p.at}: ${p.says}`);
}

describe("catalogue documents", () => {
  test("a good one is read, with or without a byte order mark", () => {
    expect(readPack(`\uFEFF${JSON.stringify({ ...HEAD, ...whole })}`)).toEqual({
      ok: true,
      pack: { ...HEAD, title: "Catalogue", ...whole },
    });
  });

  test.each([
    ["not JSON", "{", "document: This is not JSON"],
    ["a list", "[]", "document:"],
    ["another document", '{"format":"something"}', "format:"],
    ["a future version", JSON.stringify({ ...HEAD, ...whole, version: 2 }), "version:"],
    ["an unknown field", JSON.stringify({ ...HEAD, ...whole, extra: 1 }), "document:"],
  ])("%s", (_name, text, begins) => {
    const read = readPack(text);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(`${read.problems[0].at}: ${read.problems[0].says}`).toContain(begins);
  });

  test("each problem is told with its place", () => {
    expect(problems((c) => Object.assign(c.images[0], { models: ["nobody"] }))).toEqual([
      expect.stringContaining("images[0].models[0]: There is no model “nobody”"),
    ]);
    expect(problems((c) => Object.assign(c.images[1], { id: "rom" }))).toEqual([
      expect.stringContaining("images[1]: “rom” stands twice"),
    ]);
    expect(
      problems((c) => Object.assign(c.images[0], { withdrawn: { on: "2025-01-01", says: "bad", successor: "gone" } })),
    ).toEqual([expect.stringContaining("images[0].withdrawn.successor")]);
    expect(
      problems((c) => Object.assign(c.images[0], { faults: [{ hardware: "calls", models: ["x"], says: "no sound" }] })),
    ).toEqual([expect.stringContaining("images[0].faults[0].models")]);
    expect(
      problems((c) =>
        Object.assign(c.models[0].firmware, { dangerous: [{ from: "F1", to: "F9", says: "kills", safe: "F3" }] }),
      ),
    ).toEqual([expect.stringContaining("models[0].firmware.dangerous[0].to")]);
    expect(
      problems((c) =>
        Object.assign(c, { incompatible: [{ a: "rom", b: "x", says: "they fight", source: "s", on: "2025-01-01" }] }),
      ),
    ).toEqual([expect.stringContaining("incompatible[0].b")]);
  });

  test.each([
    ["a ROM that does not say how it goes on", { installs: null }, "images[0].installs"],
    ["a file name with a space", { files: [{ name: "my rom.zip", bytes: 1 }] }, "images[0].files[0].name"],
    ["a digest that is none", { files: [{ name: "a.zip", bytes: 1, sha256: "abc" }] }, "images[0].files[0].sha256"],
    ["no bytes", { files: [{ name: "a.zip", bytes: 0 }] }, "images[0].files[0].bytes"],
    ["a chance above one", { success: 1.2 }, "images[0].success"],
    ["an id with a space", { id: "my rom" }, "images[0].id"],
    [
      "a generic image without its expanded size",
      { kind: "gsi", cpu: "arm64", files: [{ name: "a.img", bytes: 5 }] },
      "images[0].files",
    ],
    ["a verification file without its build", { kind: "verification", build: null }, "images[0].build"],
    ["a recovery that is of no kind", { kind: "recovery", flavour: null }, "images[0].flavour"],
    ["a stock package without firmware", { kind: "stock" }, "images[0].firmware"],
    ["a ROM for nobody", { models: [] }, "images[0].models"],
  ])("%s is refused", (_name, change, at) => {
    expect(problems((c) => Object.assign(c.images[0], change)).map((p) => p.split(":")[0])).toContain(at);
  });
});

test("bytes to fetch and bytes on the device", () => {
  const image = {
    files: [
      { name: "a", partition: null, bytes: 10, expanded: 30, sha256: null },
      { name: "b", partition: null, bytes: 5, expanded: null, sha256: null },
    ],
  };
  expect([imageBytes(image), expandedBytes(image)]).toEqual([15, 35]);
});

test("the floor is the highest of the lowest, and says which apps set it", () => {
  const app = (name: string, minApi: number) => ({ name, minApi, services: false, integrity: false, only64: false });
  expect(floorOf({ apps: [app("A", 24), app("B", 29), app("C", 29)] })).toEqual({ api: 29, setBy: ["B", "C"] });
});

test("a policy below the hard battery stop is refused", () => {
  expect(Policy.safeParse({ batteryFloor: 20 }).success).toBe(false);
  expect(Policy.parse({}).batteryFloor).toBe(60);
});

describe("who a device is", () => {
  const models = [
    makeModel({ id: "hazel", names: ["Note 5"], modelNumbers: ["N5-E"], codename: "hazel", board: "HZ" }),
    makeModel({ id: "birch", names: ["Note 5"], modelNumbers: ["N5-I"], codename: "birch", board: "BR" }),
    makeModel({ id: "lumen", names: ["Lume", "Lume S"], modelNumbers: ["L8", "L8S"], codename: "lumen", board: "LM" }),
  ];
  const who = (facts: Parameters<typeof makeFacts>[0]) => identify(models, makeFacts(facts));

  test("model number, code name and board each decide alone, in any case of letters", () => {
    expect(who({ "model.number": "n5-i" })).toMatchObject({ kind: "one", model: { id: "birch" } });
    expect(who({ "model.codename": "Hazel" })).toMatchObject({ kind: "one", model: { id: "hazel" } });
    expect(who({ "model.board": "LM" })).toMatchObject({ kind: "one", model: { id: "lumen" } });
  });

  test("a market name decides only where it is the only one", () => {
    expect(who({ "model.name": "Lume S" })).toMatchObject({ kind: "one", model: { id: "lumen" } });
    expect(who({ "model.name": "Note 5" })).toMatchObject({ kind: "several", ask: "model.number" });
    expect(who({ "model.name": "Note 5", "model.number": "N5-E" })).toMatchObject({
      kind: "one",
      model: { id: "hazel" },
    });
  });

  test("a name that stands where the number belongs counts as a name, and a number as a number", () => {
    expect(who({ "model.number": "Lume S" })).toMatchObject({ kind: "one", model: { id: "lumen" }, by: "model.name" });
    expect(who({ "model.number": "Note 5" })).toMatchObject({ kind: "several" });
    expect(who({ "model.name": "N5-E" })).toMatchObject({ kind: "one", model: { id: "hazel" } });
    expect(who({ "model.name": "N5-E", "model.number": "nothing like it" })).toMatchObject({ kind: "none" });
  });

  test("what contradicts itself is asked about, what is not known too", () => {
    expect(who({ "model.number": "N5-E", "model.codename": "birch" })).toMatchObject({
      kind: "contradiction",
      ask: "model.codename",
    });
    expect(who({})).toEqual({ kind: "none", ask: "model.number" });
    expect(who({ "model.name": "Nothing like it" })).toEqual({ kind: "none", ask: "model.number" });
  });
});

describe("documents that mean harm are told in a moment", () => {
  const problems = (text: string) => {
    const from = performance.now();
    const read = readPack(text);
    // Generous: what this is held against is minutes and gigabytes.
    expect(performance.now() - from).toBeLessThan(2000);
    return read.ok ? [] : read.problems;
  };

  test("800,000 entries, each of them wrong", () => {
    const text = JSON.stringify({ ...HEAD, models: Array.from({ length: 800_000 }, () => ({})) });
    expect(problems(text)).toHaveLength(1);
    const fewer = JSON.stringify({ ...HEAD, models: Array.from({ length: 4_900 }, () => ({})) });
    expect(problems(fewer)).toHaveLength(50);
    expect(problems(fewer)[0].at).toMatch(/^models\[0\]\./);
  });

  test("hundreds of thousands of values side by side, and fields that nobody knows are not told one by one", () => {
    const named = (n: number) => Object.fromEntries(Array.from({ length: n }, (_, i) => [`key${i}`, 1]));
    expect(problems(JSON.stringify(named(500_000)))[0].says).toContain("side by side");
    expect(problems(JSON.stringify({ ...HEAD, models: [named(10_002)] }))[0].says).toContain("side by side");
    const [first, ...rest] = problems(JSON.stringify({ ...HEAD, ...named(9_000) }));
    expect(first.says.length).toBeLessThan(500);
    expect(rest).toEqual([]);
    // Side by side is counted for each object and list by itself.
    const many = Array.from({ length: 4_900 }, () => ({ a: [1, 2, 3] }));
    expect(problems(JSON.stringify({ ...HEAD, models: many }))[0].at).toMatch(/^models\[0\]/);
    const long = problems(JSON.stringify({ ...HEAD, needs: [{ ["x".repeat(100_000)]: 1 }] }));
    expect(Math.max(...long.map((p) => p.at.length + p.says.length))).toBeLessThan(1000);
  });

  test("nested without end", () => {
    expect(problems("[".repeat(1_000_000))[0].says).toContain("levels deep");
    expect(problems(`{"models":${"[".repeat(100)}${"]".repeat(100)}}`)[0].says).toContain("levels deep");
    // Brackets in a text are a text.
    expect(problems(JSON.stringify({ ...HEAD, title: "[".repeat(60) }))).toEqual([]);
  });

  test("one id a thousand times over", () => {
    const { needs } = JSON.parse(JSON.stringify(whole)) as { needs: object[] };
    const text = JSON.stringify({ ...HEAD, needs: Array.from({ length: 1000 }, () => needs[0]) });
    expect(problems(text)).toHaveLength(50);
  });
});
