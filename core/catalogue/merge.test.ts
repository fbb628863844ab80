import fc from "fast-check";
import { mergeEntry } from "./merge";

const ours = () => false;
const theirs = () => true;
const moved = (base: object | null, here: object, pack: object) =>
  mergeEntry(base, here, pack, ours).differences.map((d) => `${d.at}: ${d.moved}`);

const base = {
  title: "Meadow 14",
  unlock: { possible: true, waitingDays: 0 },
  models: ["a", "b"],
  files: [
    { name: "x.img", bytes: 1, sha256: null },
    { name: "y.img", bytes: 2, sha256: null },
  ],
  firmware: { order: ["F1", "F2"], dangerous: [{ from: "F1", to: "F1", says: "dies", safe: "F2" }] },
  rows: [{ k: 1 }],
};

/** Entries come out of JSON; structuredClone would make objects of another world under Jest. */
const copy = <T>(doc: T): T => JSON.parse(JSON.stringify(doc)) as T;
const with_ = (change: (doc: typeof base) => void) => {
  const doc = copy(base);
  change(doc);
  return doc;
};

describe("an entry merged with a pack's", () => {
  test("nothing moved, or both to the same: no difference", () => {
    expect(moved(base, base, base)).toEqual([]);
    const same = with_((d) => Object.assign(d, { title: "New" }));
    expect(moved(base, same, copy(same))).toEqual([]);
  });

  test("each side's own changes stand, place by place", () => {
    const here = with_((d) => Object.assign(d.unlock, { waitingDays: 7 }));
    const pack = with_((d) => Object.assign(d, { title: "Meadow 14.1" }));
    const { merged, differences } = mergeEntry(base, here, pack, ours);
    expect(differences.map((d) => [d.at, d.moved])).toEqual([
      ["title", "pack"],
      ["unlock.waitingDays", "here"],
    ]);
    expect(merged).toEqual({ ...base, title: "Meadow 14.1", unlock: { possible: true, waitingDays: 7 } });
  });

  test("the same place changed on both sides is a conflict, decided by its place", () => {
    const here = with_((d) => Object.assign(d, { title: "Ours" }));
    const pack = with_((d) => Object.assign(d, { title: "Theirs" }));
    expect(moved(base, here, pack)).toEqual(["title: both"]);
    expect(mergeEntry(base, here, pack, ours).merged).toMatchObject({ title: "Ours" });
    expect(mergeEntry(base, here, pack, (at) => at === "title").merged).toMatchObject({ title: "Theirs" });
    expect(mergeEntry(base, here, pack, (at) => at === "unlock").merged).toMatchObject({ title: "Ours" });
  });

  test("without a time before, every difference is a conflict", () => {
    expect(moved(null, { a: 1, b: 2 }, { a: 1, b: 3 })).toEqual(["b: both"]);
    expect(moved(null, { list: ["x"] }, { list: ["x", "y"] })).toEqual(["list[y]: both"]);
    expect(mergeEntry(null, { list: ["x"] }, { list: ["x", "y"] }, theirs).merged).toEqual({ list: ["x", "y"] });
  });

  test("lists of names and of rows that have a key are merged item by item", () => {
    const here = with_((d) => {
      d.models.push("ours");
      d.files[0].bytes = 10;
    });
    const pack = with_((d) => {
      d.models = ["b", "theirs"];
      d.files = [d.files[0], { name: "z.img", bytes: 3, sha256: null }];
      Object.assign(d.files[0], { sha256: "d" });
    });
    const { merged, differences } = mergeEntry(base, here, pack, ours);
    expect(merged).toMatchObject({
      models: ["b", "ours", "theirs"],
      files: [
        { name: "x.img", bytes: 10, sha256: "d" },
        { name: "z.img", bytes: 3, sha256: null },
      ],
    });
    expect(differences.map((d) => d.at).sort()).toEqual([
      "files[x.img].bytes",
      "files[x.img].sha256",
      "files[y.img]",
      "files[z.img]",
      "models[a]",
      "models[ours]",
      "models[theirs]",
    ]);
  });

  test("what one side took out and the other changed is a conflict", () => {
    const here = with_((d) => {
      d.files = [d.files[1]];
    });
    const pack = with_((d) => {
      d.files[0].bytes = 9;
    });
    expect(moved(base, here, pack)).toEqual(["files[x.img]: both"]);
  });

  test("lists whose order counts, or whose rows have no key, are taken as a whole", () => {
    const here = with_((d) => d.firmware.order.push("F3"));
    const pack = with_((d) => d.firmware.order.unshift("F0"));
    expect(moved(base, here, pack)).toEqual(["firmware.order: both"]);
    expect(
      moved(
        base,
        with_((d) => d.rows.push({ k: 2 })),
        with_((d) => d.rows.push({ k: 3 })),
      ),
    ).toEqual(["rows: both"]);
    // The same key twice: nobody can say which one was changed.
    const twice = with_((d) => d.models.push("a"));
    expect(
      moved(
        base,
        twice,
        with_((d) => d.models.push("c")),
      ),
    ).toEqual(["models: both"]);
  });
});

/** Documents like entries: nested, with lists of names and of keyed rows. */
const leaf = fc.oneof(fc.integer({ min: 0, max: 3 }), fc.constantFrom("x", "y"), fc.constant(null), fc.boolean());
const doc = fc
  .record({
    title: leaf,
    unlock: fc.record({ possible: leaf, says: leaf }),
    models: fc.uniqueArray(fc.constantFrom("a", "b", "c")),
    files: fc.uniqueArray(fc.record({ name: fc.constantFrom("p", "q", "r"), bytes: leaf }), {
      selector: (f) => f.name,
    }),
    firmware: fc.record({ order: fc.array(fc.constantFrom("F1", "F2"), { maxLength: 3 }) }),
  })
  .map(copy);
/** Lists of names and rows have no order worth a difference. */
const sorted = (d: object): string =>
  JSON.stringify(d, (key, v) => (Array.isArray(v) && key !== "order" ? v.map((i) => JSON.stringify(i)).sort() : v));

describe("laws of merging", () => {
  test("what only one side changed is that side's; all conflicts one way and nothing of ours there: the pack", () => {
    fc.assert(
      fc.property(doc, doc, (was, now) => {
        expect(sorted(mergeEntry(was, was, now, ours).merged)).toBe(sorted(now));
        expect(sorted(mergeEntry(was, now, was, theirs).merged)).toBe(sorted(now));
        expect(sorted(mergeEntry(null, was, now, theirs).merged)).toBe(sorted(now));
        expect(mergeEntry(null, was, now, ours).merged).toEqual(was);
      }),
    );
  });

  test("nothing changed here is overwritten unasked, and nothing of the pack is lost where we did not touch", () => {
    fc.assert(
      fc.property(doc, doc, doc, (was, here, pack) => {
        const { merged, differences } = mergeEntry(was, here, pack, ours);
        for (const d of differences) {
          const at = place(merged, d.at);
          expect(at).toEqual(d.moved === "pack" ? d.pack : d.here);
        }
        // Merged once, the same pack has nothing more to say but what we kept.
        const again = mergeEntry(pack, merged, pack, ours);
        expect(again.merged).toEqual(merged);
        expect(again.differences.every((d) => d.moved === "here")).toBe(true);
      }),
    );
  });
});

/** The value at a place as differences write it; undefined where there is none. */
function place(whole: object, at: string): unknown {
  const [path, item, rest] = at.split(/[[\]]/);
  const found = path.split(".").reduce<unknown>((v, k) => (v as Record<string, unknown>)?.[k], whole);
  if (item === undefined) return found;
  const list = found as readonly (string | { name: string })[];
  const one = list.find((i) => (typeof i === "string" ? i : i.name) === item);
  return rest ? (one as unknown as Record<string, unknown>)?.[rest.slice(1)] : one;
}
