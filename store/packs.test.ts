import type { Catalogue } from "~/core/catalogue/catalogue";
import { comparePack, type PackChoices, usualChoices } from "~/core/catalogue/packs";
import { emptyCopy } from "~/demo/demoCopy";
import { makeCatalogue, makeImage, makeModel } from "~/testing/catalogueEntries";
import { catalogueHistory, entryVersion, readCatalogueRows, removeEntry, saveEntry } from "./catalogue";
import type { Store } from "./database";
import { addPack, changedByPack, dropPack, findPack, listPacks, loadPack, readSaid, takePack, undoPack } from "./packs";

const hand = { by: "Ines", at: "2026-11-20T10:00:00.000Z" };
const first = makeCatalogue({
  models: [makeModel({ id: "m" })],
  images: [
    makeImage({ id: "a", kind: "rom", models: ["m"], installs: "packages" }, 33),
    makeImage({ id: "b", kind: "services" }, 33),
  ],
  incompatible: [{ a: "a", b: "b", says: "they fight", source: "test", on: "2026-01-01" }],
});
const second: Catalogue = {
  ...first,
  images: [{ ...first.images[0], version: "2" }, first.images[1], makeImage({ id: "c", kind: "services" }, 34)],
  incompatible: [],
};

function fresh(): Store {
  const store = emptyCopy();
  loadPack(store, first, hand, "Pack");
  return store;
}

/** Brings a pack in and looks at it, as the page does. */
function bring(store: Store, catalogue: Catalogue) {
  const pack = { ...catalogue, title: "Pack" };
  const id = addPack(store, { title: "Pack", name: "later.json", text: "{}" }, hand);
  const differences = comparePack(readCatalogueRows(store), pack, readSaid(store));
  const take = (over: Partial<PackChoices> = {}) =>
    takePack(store, id, pack, { ...usualChoices(differences), ...over }, hand);
  return { id, differences: differences.map((d) => `${d.key}: ${d.standing}`), take };
}
const versionOf = (store: Store, id: string) => readCatalogueRows(store).images.find((i) => i.id === id)?.version;

describe("packs", () => {
  test("a later state of a pack is held against what it said before, and taken back as a whole", () => {
    const store = fresh();
    const { id, differences, take } = bring(store, second);
    expect(differences).toEqual(["image a: changed", "image c: new", "incompatible a b: gone"]);
    expect(take({ out: new Set(["incompatible a b"]) })).toBe(3);
    expect(readCatalogueRows(store)).toEqual(second);
    expect(findPack(store, id)?.taken).toEqual(hand);
    expect(changedByPack(store, id)).toEqual([
      { kind: "image", entry: "a", out: false },
      { kind: "image", entry: "c", out: false },
      { kind: "incompatible", entry: "a b", out: true },
    ]);
    expect(undoPack(store, id, hand)).toBe(3);
    expect(readCatalogueRows(store)).toEqual(first);
    expect(findPack(store, id)?.taken).toBeNull();
    // Undone, it counts as not said: the same differences again, and taken and undone once more.
    expect(bring(store, second).differences).toEqual(differences);
    const pack = { ...second, title: "Pack" };
    takePack(store, id, pack, { take: new Set(["image c"]), packsWay: new Set(), out: new Set() }, hand);
    expect(undoPack(store, id, hand)).toBe(1);
    expect(readCatalogueRows(store)).toEqual(first);
  });

  test("what was changed here since is kept, and stands in the way of taking the pack back", () => {
    const store = fresh();
    const { id, take } = bring(store, second);
    take();
    const image = { ...second.images[0], version: "2 (ours)" };
    saveEntry(store, "image", image, entryVersion(store, "image", "a"), hand);
    expect(() => undoPack(store, id, hand)).toThrow("It was changed since: take that back first (image a)");
    expect(findPack(store, id)?.taken).toEqual(hand);
    expect(bring(store, second).differences).toEqual(["image a: kept"]);
    expect(versionOf(store, "a")).toBe("2 (ours)");
  });

  test("what somebody left out or took out here is not pressed on anybody by the same pack", () => {
    const store = fresh();
    bring(store, second).take({ take: new Set() });
    expect(bring(store, second).differences).toEqual(["image a: kept", "image c: taken-out-here"]);
    bring(store, second).take();
    expect(readCatalogueRows(store)).toEqual(first);
  });

  test("what needs a thing the pack brought stands in the way of taking it back", () => {
    const store = emptyCopy();
    const id = bring(store, first);
    id.take();
    saveEntry(store, "image", makeImage({ id: "own", kind: "rom", models: ["m"], installs: "packages" }, 33), 0, hand);
    expect(() => undoPack(store, id.id, hand)).toThrow("There is no model “m”");
    expect(readCatalogueRows(store).images).toHaveLength(3);
    removeEntry(store, "image", "own", 1, hand);
    expect(undoPack(store, id.id, hand)).toBe(5);
    expect(readCatalogueRows(store).models).toEqual([]);
    expect(catalogueHistory(store, "model", "m").map((c) => c.doc === null)).toEqual([true, false]);
  });

  test("taken in twice at once, thrown away, refused: nothing is half done", () => {
    const store = fresh();
    const { id, take } = bring(store, second);
    take();
    expect(() => take()).toThrow("taken in already");
    expect(dropPack(store, id)).toBe(false);
    const other = bring(store, second).id;
    expect(dropPack(store, other)).toBe(true);
    expect(findPack(store, other)).toBeNull();
    expect(listPacks(store).map((p) => [p.id, p.taken !== null])).toEqual([
      [id, true],
      [1, true],
    ]);
    expect(() => undoPack(store, 99, hand)).toThrow("It is not taken in");
    expect(() => store.prepare("UPDATE pack_said SET doc = NULL").run()).toThrow("appended");
    expect(() => store.prepare("UPDATE pack SET title = 'x'").run()).toThrow("never changed");
  });
});
