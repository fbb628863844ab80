import fc from "fast-check";
import { demoCatalogue } from "~/demo/catalogue";
import { decodeList, readDeviceList } from "./deviceList";
import { isSparse, readSparse, SparseError, writeSparse } from "./sparse";
import { readStandIn, standInBytes } from "./standIn";

describe("sparse images", () => {
  test("what is written is read again", () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 9000 }),
        fc.integer({ min: 1, max: 4_000_000_000 }),
        (head, size) => {
          const read = readSparse(writeSparse(head, size));
          expect(read.expanded).toBe(Math.max(Math.ceil(head.length / 4096), Math.ceil(size / 4096)) * 4096);
          expect([...read.head.subarray(0, head.length)]).toEqual([...head]);
        },
      ),
      { numRuns: 60 },
    );
  });

  test("any damage is a typed error or still a whole image, never a hang", () => {
    const whole = writeSparse(new Uint8Array(5000).fill(7), 1_000_000);
    fc.assert(
      fc.property(fc.nat(whole.length - 1), fc.nat(255), fc.nat(whole.length), (at, value, cut) => {
        const damaged = whole.slice(0, cut);
        if (at < damaged.length) damaged[at] = value;
        try {
          expect(readSparse(damaged).blocks).toBeGreaterThanOrEqual(0);
        } catch (error) {
          expect(error).toBeInstanceOf(SparseError);
        }
      }),
      { numRuns: 400 },
    );
    expect(isSparse(new Uint8Array(3))).toBe(false);
  });
});

describe("stand-in files", () => {
  const catalogue = demoCatalogue();
  const codename = (id: string) => catalogue.models.find((m) => m.id === id)?.codename;

  test("every file of every demo image tells its image and release", () => {
    for (const image of catalogue.images)
      for (const file of image.files) {
        const read = readStandIn(standInBytes(image, file.name, codename));
        expect(read?.label).toMatchObject({ image: image.id, release: image.release, build: image.build });
        if (file.expanded) expect(read?.size).toBe(Math.ceil(file.expanded / 4096) * 4096);
      }
  });

  test("bytes that are no stand-in are none", () => {
    fc.assert(fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => expect(readStandIn(bytes)).toBeNull()));
  });
});

describe("device lists", () => {
  const needs = new Map([["reading-tablet", "reading-tablet"]]);
  const read = (text: string, taken: string[] = []) => readDeviceList(text, new Set(taken), needs);

  test.each([
    ["comma", "tag,model number,android\nA-1,VK-L8,8.1\n"],
    ["semicolon", "android;tag;model number\n8.1;A-1;VK-L8\n"],
    ["tab", "Model\tAndroid version\tTag\nVK-L8\t8.1\tA-1\n"],
  ])("%s, columns in any order, header words as people write them", (_name, text) => {
    const list = read(text);
    expect(list).toMatchObject({ ok: true, rows: [{ tag: "A-1", problems: [] }] });
    if (list.ok)
      expect(Object.fromEntries(list.rows[0].facts.map((f) => [f.key, f.value]))).toEqual({
        "model.number": "VK-L8",
        "android.release": "8.1",
      });
  });

  test("each bad cell is named, good rows stay good", () => {
    const list = read(
      'tag,android,battery,need,imei\nA-1,11,50,reading-tablet,\nA-1,11,50,,\nB 2,eleven,500,gardening,490154203237515\n"quoted, tag",11,,,\nUSED,11,,,\n',
      ["used"],
    );
    if (!list.ok) throw new Error(list.says);
    expect(list.rows.map((r) => r.problems.map((p) => p.column))).toEqual([
      [],
      ["tag"],
      ["tag", "android", "battery", "need"],
      ["tag"],
      ["tag"],
    ]);
    expect(list.rows[1].problems[0].says).toContain("line 2 too");
    expect(list.rows[2].remarks[0].says).toContain("should be 8");
  });

  test("a missing tag column, open quotes, nothing at all", () => {
    expect(read("name,android\nX,11\n")).toMatchObject({ ok: false, says: expect.stringContaining("no column “tag”") });
    expect(read('tag,name\nA-1,"open\nA-2,x\n')).toMatchObject({
      ok: false,
      says: expect.stringMatching(/Line \d.*quote/),
    });
    expect(read("")).toMatchObject({ ok: false });
    expect(read("tag\n")).toMatchObject({ ok: false });
  });

  test("encodings: UTF-8 and UTF-16 with marks; others are refused with a remedy", () => {
    const text = "tag,donor\nA-1,Žofie\n";
    const utf16 = new Uint8Array(2 + text.length * 2);
    utf16.set([0xff, 0xfe]);
    for (let i = 0; i < text.length; i++) new DataView(utf16.buffer).setUint16(2 + i * 2, text.charCodeAt(i), true);
    expect(decodeList(utf16)).toEqual({ ok: true, text });
    expect(decodeList(new TextEncoder().encode(`\uFEFF${text}`))).toEqual({ ok: true, text });
    expect(decodeList(new Uint8Array([0x74, 0x61, 0x67, 0x0a, 0xe9, 0x74]))).toMatchObject({
      ok: false,
      says: expect.stringContaining("CSV UTF-8"),
    });
    expect(decodeList(new Uint8Array([0x74, 0, 0x61]))).toMatchObject({
      ok: false,
      says: expect.stringContaining("NUL"),
    });
    expect(decodeList(new Uint8Array(30_000_000))).toMatchObject({ ok: false, says: expect.stringContaining("30 MB") });
  });

  test("any text gives rows or a reason", () => {
    fc.assert(fc.property(fc.string({ maxLength: 500 }), (text) => expect(typeof read(text).ok).toBe("boolean")));
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (text) => expect(typeof read(`tag,name\n${text}`).ok).toBe("boolean")),
    );
  });
});
