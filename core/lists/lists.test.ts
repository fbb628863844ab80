import { parse } from "csv-parse/sync";
import { stringify } from "csv-stringify/sync";
import fc from "fast-check";
import { plainValue } from "./cellValue";
import { guessColumns } from "./columns";
import { COLUMNS } from "./columnWords";
import { type Earlier, judgeRows, type ListWorld } from "./deviceList";
import { MAX_LIST_ROWS } from "./limits";
import { decodeList, readCsv, readList } from "./table";

const nobody: ListWorld = {
  taken: new Set(["used"]),
  needs: new Map([
    ["reading-tablet", "reading-tablet"],
    ["reading tablet", "reading-tablet"],
  ]),
  bySerial: () => null,
  byImei: () => null,
  numbered: null,
};

/** A text read, its columns guessed, its rows judged. */
function read(text: string, world: Partial<ListWorld> = {}) {
  const table = readCsv(text);
  if (!table.ok) throw new Error(table.says);
  const mapping = guessColumns(table.header, table.rows, new Map()).map((g) => g.column);
  const raw = table.rows.map((r) => ({ ...r, choice: null }));
  return { table, mapping, rows: judgeRows(raw, mapping, { ...nobody, ...world }) };
}
const factsOf = (row: ReturnType<typeof read>["rows"][number]) =>
  Object.fromEntries(row.facts.map((f) => [f.key, f.value]));

describe("text and encoding", () => {
  const text = "tag,donor\nA-1,Žofie\n";
  const utf16 = (little: boolean, mark: boolean) => {
    const all = (mark ? "\uFEFF" : "") + text;
    const bytes = new Uint8Array(all.length * 2);
    for (let i = 0; i < all.length; i++) new DataView(bytes.buffer).setUint16(i * 2, all.charCodeAt(i), little);
    return bytes;
  };

  // Published: the Unicode Standard, byte order marks.
  test("UTF-8 and UTF-16, both orders, with and without a mark", () => {
    for (const mark of [true, false]) {
      expect(decodeList(new TextEncoder().encode((mark ? "\uFEFF" : "") + text))).toEqual({ ok: true, text });
      for (const little of [true, false]) expect(decodeList(utf16(little, mark))).toEqual({ ok: true, text });
    }
  });

  test("anything else is refused with the line and a remedy", () => {
    const latin = new Uint8Array([...new TextEncoder().encode("tag\nŽ\n"), 0xe9, 0x74, 0x0a]);
    expect(decodeList(latin)).toMatchObject({
      ok: false,
      says: expect.stringMatching(/^Line 3 is not UTF-8, though.*CSV UTF-8/),
    });
    expect(decodeList(new TextEncoder().encode("tag\nA\0\n"))).toMatchObject({
      ok: false,
      says: expect.stringMatching(/^Line 2 holds NUL/),
    });
    expect(decodeList(new Uint8Array(30_000_000))).toMatchObject({ ok: false, says: expect.stringContaining("30 MB") });
  });

  test.each([
    ["comma", "tag,model number,android\nA-1,VK-L8,8.1\n"],
    ["semicolon", "android;tag;model number\n8.1;A-1;VK-L8\n"],
    ["tab", "Model\tAndroid version\tTag\nVK-L8\t8.1\tA-1\n"],
    ["semicolon, a comma in a quoted header", '"tag, label";"model";android\nA-1;VK-L8;8.1\n'],
  ])("%s", (_name, csv) => {
    const { rows } = read(csv.replace('"tag, label"', '"tag"'));
    expect(rows[0]).toMatchObject({ tag: "A-1", problems: [] });
    expect(factsOf(rows[0])).toEqual({ "model.number": "VK-L8", "android.release": "8.1" });
  });

  test("a quote inside a cell is one; a number that is kept from being counted with", () => {
    const read = readCsv(
      'tag,name,imei\nA-1,Tab 10" black,="490154203237518"\nA-2,7",= "x"\nA-3,"said ""7"" in",\nA-4,"""7"" in",\n',
    );
    expect(read.ok && read.rows.map((r) => r.cells)).toEqual([
      ["A-1", 'Tab 10" black', "490154203237518"],
      ["A-2", '7"', '= "x"'],
      ["A-3", 'said "7" in', ""],
      ["A-4", '"7" in', ""],
    ]);
  });

  test.each([
    ["closed in the middle of a cell", 'tag,name\nA-1,"Tab" 10\nA-2,x\n'],
    ["closed by the quote of a later line, which takes lines in", 'tag,name\nA-1,"Tab 10\nA-2,7" black\nA-3,x\n'],
  ])("a quote that is %s: refused, by its line", (_what, csv) => {
    expect(readCsv(csv)).toMatchObject({ ok: false, says: expect.stringMatching(/Line [23].*quote/) });
  });

  test("open quotes, nothing at all, too many rows", () => {
    expect(readCsv('tag,name\nA-1,"open\nA-2,x\n')).toMatchObject({
      ok: false,
      says: expect.stringMatching(/Line \d.*quote/),
    });
    for (const empty of ["", "\n\n", "tag\n", "tag,name\n,\n"]) expect(readCsv(empty)).toMatchObject({ ok: false });
    const many = `tag\n${"A\n".repeat(1_000_000)}`;
    expect(readCsv(many)).toMatchObject({
      ok: false,
      says: expect.stringContaining(MAX_LIST_ROWS.toLocaleString("en")),
    });
  });

  test("what stands above a full list, or is empty in it, costs it no row", () => {
    const rows = `${"A;x\n".repeat(MAX_LIST_ROWS - 1)}Z;y\n`;
    const above = `Collection of June\nby the front desk\n\n${";\n".repeat(70_000)}tag;model\n`;
    const full = readList(above + rows);
    expect(full).toMatchObject({ ok: true, header: ["tag", "model"] });
    if (full.ok) expect([full.rows.length, full.rows.at(-1)?.cells]).toEqual([MAX_LIST_ROWS, ["Z", "y"]]);
    expect(readList(`${above}B;x\n${rows}`)).toMatchObject({ ok: false, says: expect.stringContaining("50,000") });
  });

  test("any text gives rows or a reason", () => {
    fc.assert(fc.property(fc.string({ maxLength: 500 }), (t) => expect(typeof readCsv(t).ok).toBe("boolean")));
    fc.assert(fc.property(fc.uint8Array({ maxLength: 200 }), (b) => expect(typeof decodeList(b).ok).toBe("boolean")));
  });

  // From outside: csv-stringify writes, csv-parse reads; a cell that a spreadsheet would run comes back as it was.
  test("what was written so that no spreadsheet runs it comes back unchanged", () => {
    const cells = fc.array(fc.constantFrom("=1+1", "+49 1", "-x", "@cmd", "plain", "'quoted", "a,b"), {
      minLength: 2,
      maxLength: 5,
    });
    fc.assert(
      fc.property(cells, (row) => {
        const csv = stringify([row.map((_, i) => `h${i}`), row], { escape_formulas: true });
        for (const cell of (parse(csv) as string[][])[1]) expect(cell).not.toMatch(/^[=+\-@]/);
        const back = readCsv(csv);
        expect(back.ok && back.rows[0].cells).toEqual(row);
      }),
    );
  });
});

describe("what a column holds", () => {
  const guess = (header: string[], ...rows: string[][]) =>
    guessColumns(
      header,
      rows.map((cells) => ({ cells })),
      new Map(),
    );

  test("by the words people use", () => {
    expect(
      guess(["Asset tag", "S/N", "IMEI 1", "Modell", "OS version", "Akku", "Colour"]).map((g) => g.column),
    ).toEqual(["tag", "serial", "imei", "model.number", "android.release", "battery.percent", null]);
  });

  test("by what the cells look like, where the header says nothing", () => {
    const found = guess(
      ["column 1", "column 2", "column 3", "column 4"],
      ["490154203237518", "Android 11", "71,5 %", "red"],
      ["490154203237518", "9", "8 %", "x"],
    );
    expect(found.map((g) => [g.column, g.by])).toEqual([
      ["imei", "content"],
      ["android.release", "content"],
      ["battery.percent", "content"],
      [null, "nothing"],
    ]);
  });

  test("as it was last time for this source, and never one thing twice", () => {
    const memory = new Map([
      ["colour", "donor" as const],
      ["name", null],
    ]);
    const found = guessColumns(["Colour", "Name", "Tag", "Label"], [], memory);
    expect(found.map((g) => g.column)).toEqual(["donor", null, "tag", null]);
  });

  test("no header word stands for two columns", () => {
    const words = Object.values(COLUMNS).flat();
    expect(new Set(words).size).toBe(words.length);
  });
});

describe("cells as spreadsheets write them", () => {
  test.each([
    ["battery.percent", "71,5 %", "71.5"],
    ["battery.percent", "71%", "71"],
    ["android.release", "Android 11.0", "11"],
    ["android.release", "8.1.0", "8.1"],
    ["build.patch", "5.7.2021", "2021-07-05"],
    ["build.patch", "07/05/2021", "07/05/2021"],
    ["bootloader.locked", "Ja", "yes"],
    ["slot.current", "_B", "b"],
  ] as const)("%s: “%s” is %s", (key, cell, plain) => expect(plainValue(key, cell)).toBe(plain));
});

describe("rows", () => {
  test("each bad cell is named, good rows stay good", () => {
    const { rows, mapping } = read(
      'tag,android,battery,need,imei\nA-1,11,50,reading tablet,\nA-1,11,50,,\nB 2,eleven,500,gardening,490154203237515\n"quoted, tag",11,,,\nUSED,11,,,\n,11,,,\nC-1,11,,,,over\n',
    );
    expect(rows.map((r) => r.problems.map((p) => mapping[p.cell] ?? "row"))).toEqual([
      [],
      ["tag"],
      ["tag", "android.release", "battery.percent", "need"],
      ["tag"],
      ["tag"],
      ["row", "tag"],
      ["row"],
    ]);
    expect(rows[0].need).toBe("reading-tablet");
    expect(rows[1].problems[0].says).toContain("line 2 too");
    expect(rows[2].remarks[0].says).toContain("should be 8");
  });

  test("the same serial number or IMEI twice in one list is told at the second", () => {
    const { rows } = read("tag,serial,imei\nA-1,SN1,490154203237518\nA-2,sn1,\nA-3,,490154203237518\n");
    expect(rows.map((r) => r.problems.length)).toEqual([0, 1, 1]);
  });

  test("a device that was here before comes back only when a person says so; one that is here is never doubled", () => {
    const gone: Earlier = { device: 7, tag: "OLD-7", left: true };
    const here: Earlier = { device: 8, tag: "NEW-8", left: false };
    const world: ListWorld = { ...nobody, bySerial: (s) => (s === "SN7" ? gone : s === "SN8" ? here : null) };
    const judge = (serial: string, choice: "returning" | null) =>
      judgeRows([{ line: 2, cells: ["A-1", serial], choice }], ["tag", "serial"], world)[0];
    expect(judge("SN7", null).problems[0].says).toContain("OLD-7");
    expect(judge("SN7", "returning")).toMatchObject({ problems: [], earlier: gone });
    expect(judge("SN8", null).problems).toHaveLength(1);
    expect(judge("SN8", "returning").problems[0].says).toContain("here already");
  });

  test("a list without tags gets the next free ones", () => {
    const taken = new Set(["rs-002"]);
    const { rows } = read("model,android\nVK-L8,9\nVK-L8,9\nVK-L8,9\n", {
      taken,
      numbered: { prefix: "RS-", from: 1 },
    });
    expect(rows.map((r) => r.tag)).toEqual(["RS-001", "RS-003", "RS-004"]);
    expect(rows.every((r) => r.problems.length === 0)).toBe(true);
  });
});
