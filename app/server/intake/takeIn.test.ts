import { deflateRawSync } from "node:zlib";
import ExcelJS from "exceljs";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { placedDevices } from "~/app/server/planning/lane";
import { catalogueOf } from "~/app/server/planning/planning";
import { readCsv } from "~/core/lists/table";
import { demoCopy } from "~/demo/demoCopy";
import { appendClearance } from "~/store/clearance";
import { countedBatches, findStanding } from "~/store/devices";
import { factsOf } from "~/store/facts";
import { findImport, mendImport, undoImport } from "~/store/imports";
import { listedImei } from "./listedImei";
import { draftList, judgeList, takeList } from "./takeIn";
import { readXlsx } from "./xlsx";

const hand = { by: "Tomasz Wikk", at: "2026-11-25T10:00:00.000Z" };
const BATCH = "2026-11-autumn";

function draft(store: ReturnType<typeof demoCopy>, csv: string, source = "Rivergate school") {
  const table = readCsv(csv);
  if (!table.ok) throw new Error(table.says);
  return draftList(store, { batch: BATCH, source, file: "list.csv", table }, hand);
}

describe("a list, from draft to lane and back", () => {
  const CSV =
    "Inventory number;Modell;Android;Akku;Spender\nRS-1;ON-T8W;9;71,5 %;Rivergate school\nRS-2;ON-T8W;nine;60;Rivergate school\n";

  test("good rows go in, the rest stays and is mended in place; the mapping is remembered for the source", () => {
    const store = demoCopy();
    const id = draft(store, CSV);
    expect(judgeList(store, id)).toMatchObject({ good: [{ tag: "RS-1" }], bad: [{ tag: "RS-2" }] });
    expect(takeList(store, id, hand, () => {})).toBe(1);
    const device = findStanding(store, "RS-1");
    expect(factsOf(store, device?.id as number).find((f) => f.key === "battery.percent")?.value).toBe(71.5);
    const { version, mapping, prefix } = findImport(store, id) as NonNullable<ReturnType<typeof findImport>>;
    const mended = { version, mapping, prefix, need: null, cells: [{ line: 3, cell: 2, text: "9" }], choices: [] };
    mendImport(store, id, mended);
    expect(() => mendImport(store, id, mended)).toThrow("somebody else");
    expect(takeList(store, id, hand, () => {})).toBe(1);
    expect(judgeList(store, id)).toMatchObject({ good: [], bad: [] });
    const again = draft(store, "Spender;Inventory number;Akku\nx;RS-9;50\n");
    expect(findImport(store, again)?.mapping).toEqual(["donor", "tag", "battery.percent"]);
  });

  test("days that can be read two ways are asked once for their column, and the answer stays with the list", () => {
    const store = demoCopy();
    const id = draft(store, "Inventory number;Modell;Patch\nRS-1;ON-T8W;05/07/2021\nRS-2;ON-T8W;04/08/2021\n");
    const judged = () => judgeList(store, id) as NonNullable<ReturnType<typeof judgeList>>;
    const patches = () => judged().good.map(({ facts }) => facts.find((f) => f.key === "build.patch")?.value);
    expect(judged().bad).toHaveLength(2);
    const say = (days: Record<number, "day" | "month">) => {
      const { version, mapping, prefix } = judged().list;
      mendImport(store, id, { version, mapping, prefix, need: null, days, cells: [], choices: [] });
    };
    say({ 2: "day" });
    expect(patches()).toEqual(["2021-07-05", "2021-08-04"]);
    say({ 2: "month" });
    expect(patches()).toEqual(["2021-05-07", "2021-04-08"]);
    expect(findImport(store, id)?.days).toEqual({ 2: "month" });
  });

  test("what stands where an IMEI belongs and is none stays as a remark on its device, and is no number of it", () => {
    const store = demoCopy();
    const cells = ["3.59005E+14", "unknown", "356938035643809", "356938035643801", ""];
    const id = draft(store, `Inventory number;Modell;IMEI\n${cells.map((c, k) => `RS-${k};ON-T8W;${c}\n`).join("")}`);
    expect(takeList(store, id, hand, () => {})).toBe(5);
    const listed = cells.map((_, k) => {
      const standing = findStanding(store, `RS-${k}`);
      return [standing?.imei, listedImei(store, standing?.id as number)];
    });
    expect(listed).toEqual([
      [null, { text: "3.59005E+14", says: expect.stringContaining("rounded"), line: 2 }],
      [null, { text: "unknown", says: null, line: 3 }],
      ["356938035643809", null],
      [null, { text: "356938035643801", says: expect.stringContaining("should be 9"), line: 5 }],
      [null, null],
    ]);
  });

  test("a line for three devices becomes three, and all rows go to the need that was chosen for the list", () => {
    const store = demoCopy();
    const need = catalogueOf(store).needs[0].id;
    const id = draft(store, "Modell;Seriennummer;Anzahl\nON-T8W;Q77001;3\nON-T8W;Q77009;1\n", "box of tablets");
    const judged = () => judgeList(store, id) as NonNullable<ReturnType<typeof judgeList>>;
    expect(judged().bad).toMatchObject([{ line: 2, many: 3 }]);
    const { version, mapping, prefix } = judged().list;
    mendImport(store, id, { version, mapping, prefix, need, cells: [], choices: [], splits: [2] });
    const { good, bad } = judged();
    expect(bad).toEqual([]);
    expect(good.map((r) => [r.line, r.serial, r.need])).toEqual([
      [2, "Q77001", need],
      [3, "Q77009", need],
      [4, null, need],
      [5, null, need],
    ]);
    expect(takeList(store, id, hand, () => {})).toBe(4);
  });

  test("the whole import is undone: devices withdrawn, tags free, the list a draft again", () => {
    const store = demoCopy();
    const id = draft(store, CSV);
    takeList(store, id, hand, () => {});
    expect(undoImport(store, id, hand)).toBe(1);
    expect(findStanding(store, "RS-1")).toBeUndefined();
    expect(placedDevices(store, BATCH)).toHaveLength(26);
    expect(countedBatches(store).find((b) => b.id === BATCH)?.devices).toBe(26);
    expect(takeList(store, id, hand, () => {})).toBe(1);
    const seen = { seen: 0, lock: { possible: true as const, says: "" } };
    appendClearance(store, "RS-1", { event: "found-account", evidence: "", ...seen }, hand);
    expect(undoImport(store, id, hand)).toContain("RS-1");
    expect(findStanding(store, "RS-1")).toBeDefined();
  });

  test("a device that comes back is shown with its history and linked to it; one in the lane is refused", () => {
    const store = demoCopy();
    const gone = findStanding(store, "TH-020");
    const here = findStanding(store, "TH-001");
    const id = draft(store, `tag,serial\nB-1,${gone?.serial}\nB-2,${here?.serial?.toLowerCase()}\n`, "returns");
    const { bad, list } = judgeList(store, id) as NonNullable<ReturnType<typeof judgeList>>;
    expect(bad.map((r) => r.earlier)).toEqual([
      { device: gone?.id, tag: "TH-020", left: true },
      { device: here?.id, tag: "TH-001", left: false },
    ]);
    const { version, mapping, prefix } = list;
    const choices = bad.map((r) => ({ line: r.line, choice: "returning" as const }));
    mendImport(store, id, { version, mapping, prefix, need: null, cells: [], choices });
    expect(takeList(store, id, hand, () => {})).toBe(1);
    expect(findStanding(store, "B-1")?.returns).toBe(gone?.id);
    expect(findStanding(store, "B-2")).toBeUndefined();
  });

  test("cancelled in the middle: nothing at all was taken in", () => {
    const store = demoCopy();
    const id = draft(store, `tag\n${Array.from({ length: 500 }, (_, i) => `C-${i}`).join("\n")}\n`);
    expect(() =>
      takeList(store, id, hand, (done) => {
        if (done >= 300) throw new Error("enough");
      }),
    ).toThrow("enough");
    expect(placedDevices(store, BATCH)).toHaveLength(26);
    expect(judgeList(store, id)?.good).toHaveLength(500);
  });
});

describe("workbooks", () => {
  async function workbook(fill: (sheet: ExcelJS.Worksheet) => void) {
    const book = new ExcelJS.Workbook();
    fill(book.addWorksheet("List"));
    return new Uint8Array(await book.xlsx.writeBuffer());
  }

  test("numbers, days, percents, rich text, links and formulas come out as a person sees them", async () => {
    const bytes = await workbook((sheet) => {
      sheet.addRow(["Tag", "IMEI", "Patch", "Battery", "Donor", "Android"]);
      const row = sheet.addRow([
        "X-1",
        359000000000015,
        new Date(Date.UTC(2021, 6, 5)),
        0.71,
        { richText: [{ text: "Fam. " }, { text: "Dorran" }] },
        { formula: "10+1", result: 11 },
      ]);
      row.getCell(4).numFmt = "0%";
      sheet.addRow(["=HYPERLINK(1)", "", "", "", { text: "Desk", hyperlink: "https://place.example" }, 9]);
    });
    const table = await readXlsx(bytes);
    expect(table.ok && table.rows.map((r) => r.cells)).toEqual([
      ["X-1", "359000000000015", "2021-07-05", "71%", "Fam. Dorran", "11"],
      ["=HYPERLINK(1)", "", "", "", "Desk", "9"],
    ]);
    expect(table.ok && table.remarks).toEqual([expect.stringContaining("One cell holds a formula")]);
  });

  test("macros are told and not run; a zip that is no workbook, and a broken one, are refused", async () => {
    const plain = await workbook((sheet) => sheet.addRows([["tag"], ["X-1"]]));
    const withMacro = zipSync({ ...unzipSync(plain), "xl/vbaProject.bin": strToU8("Sub Auto_Open()") });
    const table = await readXlsx(withMacro);
    expect(table.ok && table.remarks).toEqual([expect.stringContaining("macros")]);
    const empty = new ExcelJS.Workbook();
    empty.addWorksheet("Nothing");
    expect(await readXlsx(new Uint8Array(await empty.xlsx.writeBuffer()))).toMatchObject({
      ok: false,
      says: expect.stringContaining("The list is empty"),
    });
    expect(await readXlsx(zipSync({ "a.txt": strToU8("x") }))).toMatchObject({
      ok: false,
      says: expect.stringContaining("no workbook"),
    });
    expect(await readXlsx(plain.subarray(0, plain.length / 2))).toMatchObject({ ok: false });
    const bad = plain.slice();
    for (let i = 60; i < bad.length - 60; i += 7) bad[i] ^= 0xff;
    expect(await readXlsx(bad)).toMatchObject({ ok: false });
  });

  /** A zip entry as it stands in the file; enough for whoever reads from the front. */
  function entry(name: string, packed: Buffer, unpacked: number): Uint8Array {
    const head = Buffer.alloc(30);
    head.writeUInt32LE(0x04034b50, 0);
    head.writeUInt16LE(20, 4);
    head.writeUInt16LE(8, 8);
    head.writeUInt32LE(packed.length, 18);
    head.writeUInt32LE(unpacked, 22);
    head.writeUInt16LE(name.length, 26);
    return Buffer.concat([head, Buffer.from(name), packed]);
  }

  test("a bomb is stopped before it is unpacked whole, whatever size it claims", async () => {
    const size = 80_000_000;
    const packed = deflateRawSync(Buffer.alloc(size), { level: 1 });
    for (const claimed of [size, 1000])
      expect(await readXlsx(entry("xl/worksheets/sheet1.xml", packed, claimed))).toMatchObject({
        ok: false,
        says: expect.stringContaining("unpacks to more than 64 MB"),
      });
  }, 20_000);

  test("a workbook of more parts than any has is told after the first thousands of them", async () => {
    const parts = Object.fromEntries(Array.from({ length: 5001 }, (_, k) => [`xl/media/${k}`, new Uint8Array(0)]));
    expect(await readXlsx(zipSync(parts, { level: 0 }))).toMatchObject({
      ok: false,
      says: expect.stringContaining("more than 5000 parts"),
    });
  });

  test("more rows than a list may have are refused", async () => {
    const whole = unzipSync(await workbook((sheet) => sheet.addRows([["tag"], ["X-1"]])));
    const row = (n: number) => `<row r="${n}"><c r="A${n}" t="inlineStr"><is><t>A</t></is></c></row>`;
    const sheet = strFromU8(whole["xl/worksheets/sheet1.xml"]).replace(
      "</sheetData>",
      `${Array.from({ length: 50_010 }, (_, i) => row(i + 3)).join("")}</sheetData>`,
    );
    const many = zipSync({ ...whole, "xl/worksheets/sheet1.xml": strToU8(sheet) }, { level: 1 });
    expect(await readXlsx(many)).toMatchObject({ ok: false, says: expect.stringContaining("50,000 rows") });
  }, 20_000);
});
