import { makeCatalogue, makeImage, makeModel } from "~/testing/catalogueEntries";
import type { Catalogue, Incompatible } from "./catalogue";
import { fieldLabel } from "./fieldLabel";
import {
  applyPack,
  comparePack,
  conflictKey,
  entriesOf,
  type PackChoices,
  packOf,
  type Said,
  usualChoices,
} from "./packs";

const pair: Incompatible = { a: "rom", b: "add-on", says: "it stops", source: "test", on: "2026-01-01" };
const whole = makeCatalogue({
  models: [makeModel({ id: "m" }), makeModel({ id: "n" })],
  images: [
    makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages" }, 33),
    makeImage({ id: "other", kind: "rom", models: ["n"], installs: "packages" }, 33),
    makeImage({ id: "add-on", kind: "services" }, 33),
  ],
  incompatible: [pair],
});

const titled = (c: Catalogue, title = "Pack") => ({ ...c, title });
const said = (c: Catalogue, title = "Pack"): Said =>
  new Map([...entriesOf(c)].map(([key, entry]) => [key, { ...entry, title }]));
const NOTHING: Said = new Map();
const standings = (here: Catalogue, pack: Catalogue, before: Said) =>
  comparePack(here, titled(pack), before).map((d) => `${d.key}: ${d.standing}`);
const image = (c: Catalogue, id: string, change: object): Catalogue => ({
  ...c,
  images: c.images.map((i) => (i.id === id ? { ...i, ...change } : i)),
});
const take = (here: Catalogue, pack: Catalogue, before: Said, over: Partial<PackChoices> = {}) =>
  applyPack(here, titled(pack), before, { ...usualChoices(comparePack(here, titled(pack), before)), ...over });

describe("a pack held against what is here", () => {
  test("the same says nothing; an empty house finds everything new", () => {
    expect(standings(whole, whole, NOTHING)).toEqual([]);
    const empty = { models: [], images: [], needs: [], incompatible: [] };
    expect(standings(empty, whole, NOTHING)).toEqual([
      "model m: new",
      "model n: new",
      "image rom: new",
      "image other: new",
      "image add-on: new",
      "need need: new",
      "incompatible add-on rom: new",
    ]);
    const result = take(empty, whole, NOTHING);
    expect(result.ok && result.writes).toHaveLength(7);
  });

  test("changed, merged, conflicting, kept", () => {
    const before = said(whole);
    const pack = image(whole, "rom", { version: "2" });
    expect(standings(whole, pack, before)).toEqual(["image rom: changed"]);
    expect(standings(image(whole, "rom", { rooted: true }), pack, before)).toEqual(["image rom: merged"]);
    expect(standings(image(whole, "rom", { version: "1b" }), pack, before)).toEqual(["image rom: conflict"]);
    expect(standings(image(whole, "rom", { version: "1b" }), whole, before)).toEqual(["image rom: kept"]);
    // Nothing is known of a time before: whose change it was can't be said.
    expect(standings(whole, pack, NOTHING)).toEqual(["image rom: conflict"]);
  });

  test("gone from a later state of the same pack, not from another pack; taken out here", () => {
    const part = { ...whole, images: whole.images.slice(0, 1), incompatible: [] };
    expect(standings(whole, part, said(whole))).toEqual([
      "image other: gone",
      "image add-on: gone",
      "incompatible add-on rom: gone",
    ]);
    expect(standings(whole, part, said(whole, "Another pack"))).toEqual([]);
    expect(standings(part, whole, said(whole))).toEqual([
      "image other: taken-out-here",
      "image add-on: taken-out-here",
      "incompatible add-on rom: taken-out-here",
    ]);
    // None of these is done unasked.
    expect(take(whole, part, said(whole))).toEqual({ ok: true, writes: [] });
    expect(take(part, whole, said(whole))).toEqual({ ok: true, writes: [] });
  });

  test("a pair is the same whichever image stands first", () => {
    const turned = { ...whole, incompatible: [{ ...pair, a: pair.b, b: pair.a }] };
    expect(comparePack(whole, titled(turned), said(whole)).map((d) => d.key)).toEqual(["incompatible add-on rom"]);
  });
});

describe("taking a pack in", () => {
  const pack = image(whole, "rom", { version: "2", title: "The rom" });
  const here = image(whole, "rom", { version: "1b", rooted: true });

  test("what stands here stays in a conflict, and the rest of the entry is merged; the pack's way only where chosen", () => {
    const doc = (over?: Partial<PackChoices>) => {
      const result = take(here, pack, said(whole), over);
      return result.ok ? result.writes[0].doc : null;
    };
    expect(doc()).toMatchObject({ version: "1b", title: "The rom", rooted: true });
    const packsWay = new Set([conflictKey("image rom", "version")]);
    expect(doc({ packsWay })).toMatchObject({ version: "2", title: "The rom", rooted: true });
    expect(take(here, pack, said(whole), { take: new Set() })).toEqual({ ok: true, writes: [] });
  });

  test("names that would point nowhere are told by the entry's name, and nothing is written", () => {
    const added = {
      ...whole,
      images: [...whole.images, makeImage({ id: "new", kind: "rom", models: ["m"], installs: "packages" }, 34)],
    };
    const empty = { ...whole, models: [], images: [], incompatible: [] };
    const choices = { take: new Set(["image new"]) };
    expect(take(empty, added, NOTHING, choices)).toEqual({
      ok: false,
      problems: [{ at: "new.models[0]", says: expect.stringContaining("There is no model “m”") }],
    });
    const out = { out: new Set(["model m"]) };
    expect(take(whole, whole, said(whole), out)).toMatchObject({ ok: false, problems: [{ at: "rom.models[0]" }] });
  });

  test("an entry that no longer makes sense when both sides are put together is refused", () => {
    const rom = makeImage({ id: "v", kind: "rom", models: ["m"], installs: "packages" }, 30);
    const base = { ...whole, images: [rom], incompatible: [] };
    const addOn = { ...base, images: [{ ...rom, kind: "services" as const, models: [] }] };
    const sideload = { ...base, images: [{ ...rom, installs: null }] };
    expect(take(sideload, addOn, said(base))).toMatchObject({ ok: true });
    const stillRom = { ...base, images: [{ ...rom, models: [] }] };
    expect(take(base, stillRom, said(base))).toEqual({
      ok: false,
      problems: [{ at: "image v, models", says: expect.stringContaining("may name no model") }],
    });
  });
});

test("a pack is cut out by kind, by model, by one entry", () => {
  const ids = (wish: Partial<Parameters<typeof packOf>[1]>) =>
    [
      ...entriesOf(
        packOf(whole, {
          title: "Part",
          kinds: new Set(["model", "image", "need", "incompatible"]),
          models: null,
          generic: true,
          only: null,
          ...wish,
        }),
      ).keys(),
    ].join(", ");
  expect(ids({})).toBe([...entriesOf(whole).keys()].join(", "));
  expect(ids({ models: new Set(["m"]), generic: false })).toBe("model m, image rom, need need");
  expect(ids({ models: new Set(["m"]) })).toBe("model m, image rom, image add-on, need need, incompatible add-on rom");
  expect(ids({ kinds: new Set(["image"]), only: "other" })).toBe("image other");
  expect(ids({ kinds: new Set(["need"]) })).toBe("need need");
  expect(ids({ kinds: new Set(["incompatible"]) })).toBe("incompatible add-on rom");
});

test("places in the words of the forms", () => {
  expect(fieldLabel("model", "unlock.possible")).toBe("The bootloader can be unlocked");
  expect(fieldLabel("image", "files[boot.img].sha256")).toBe("Files, boot.img, SHA-256");
  expect(fieldLabel("image", "models[m]")).toBe("Models it is made for, m");
  expect(fieldLabel("need", "apps[Messenger].minApi")).toBe("Apps, Messenger, lowest API level");
  expect(fieldLabel("need", "history[2025-01-01].api")).toBe("Floor over time, 2025-01-01, API level");
  expect(fieldLabel("incompatible", "says")).toBe("What goes wrong");
});
