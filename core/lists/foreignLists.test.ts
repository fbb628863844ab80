// Lists as people really have them: made up, in the forms that such lists take (common practice, no source).
import { type DayOrder, plainValue, shapeOf } from "./cellValue";
import { type Column, columnOfHeading, guessColumns } from "./columns";
import { type DeviceRow, judgeRows, quantityColumn, splitLine } from "./deviceList";
import type { Reading } from "./reading";
import { decodeList, readList } from "./table";

const IMEI = "490154203237518";

function read(text: string, reading: Reading = {}, mapping: Partial<Record<number, Column>> = {}) {
  const table = readList(text, reading);
  if (!table.ok) throw new Error(table.says);
  const columns = guessColumns(table.header, table.rows, new Map()).map(
    (g, i) => mapping[i] ?? (g.by === "content" ? null : g.column),
  );
  const rows = judgeRows(
    table.rows.map((r) => ({ ...r, choice: null })),
    columns,
    {
      taken: new Set(),
      needs: new Map(),
      bySerial: () => null,
      byImei: () => null,
      numbered: columns.includes("tag") ? null : { prefix: "X-", from: 1 },
      today: "2026-11-27",
      quantity: quantityColumn(table.header),
    },
  );
  return { table, columns, rows, remarks: table.remarks.join(" | ") };
}
const facts = (row: DeviceRow) => Object.fromEntries(row.facts.map((f) => [f.key, f.value]));
const good = (rows: readonly DeviceRow[]) => rows.filter((r) => r.problems.length === 0);

describe("finding the table", () => {
  test("title, blank and contact lines above it", () => {
    const { table, rows, remarks } = read(
      "Donation list spring\n\nContact: Oda, 0123 456\n;;\nModel;Android ver.;Batt.\nVK-L8;8.1;50 %\nVK-L9;9;60 %\n",
    );
    expect(table.found).toMatchObject({ heading: 5, separator: ";" });
    expect(rows.map((r) => r.line)).toEqual([6, 7]);
    expect(remarks).toContain("above the heading");
    expect(facts(rows[0])).toEqual({ "model.number": "VK-L8", "android.release": "8.1", "battery.percent": 50 });
  });

  test.each([
    ["sep=;", "sep=;\nModel;Serial\nVK-L8;A1\n", ";"],
    ["pipes", "| Model | Serial |\n|-------|--------|\n| VK-L8 | A1 |\n", "|"],
    ["pipes without bars at the ends", "Model|Serial\nVK-L8|A1\n", "|"],
    ["tabs", "Model\tSerial\nVK, L8\tA1\n", "\t"],
    ["semicolons, commas in the cells", "Model;Serial;Batt.\nVK-L8;A1;71,5\nVK-L8;A2;60,5\n", ";"],
    ["a title with commas above semicolons", "Phones, tablets, and more\nModel;Serial\nVK-L8;A1\nVK-L8;A2\n", ";"],
  ])("%s", (_what, text, separator) => {
    const { table, rows } = read(text);
    expect(table.found?.separator).toBe(separator);
    expect(good(rows).length).toBeGreaterThan(0);
    expect(rows[0].serial).toBe("A1");
  });

  test("two lines of headings, and a ruler under them", () => {
    const { table, rows, columns } = read(
      "Device,,Condition,\nModel,Serial,Batt.,Notes\n-----,-----,-----,-----\nVK-L8,A1,50,x\n",
    );
    expect(table.header).toEqual(["Model", "Serial", "Batt.", "Notes"]);
    expect(columns).toEqual(["model.number", "serial", "battery.percent", null]);
    expect(rows).toHaveLength(1);
  });

  test("no heading at all: nothing is taken before a person says what the columns hold", () => {
    const { table, rows, columns, remarks } = read(`VK-L8,${IMEI},11\nVK-L9,356938035643809,9\n`);
    expect(table.found?.heading).toBeNull();
    expect(remarks).toContain("no heading");
    expect(columns.every((c) => c === null)).toBe(true);
    expect(rows).toHaveLength(2);
    expect(good(rows)).toEqual([]);
  });

  test("a person says which line is the heading, and which separator", () => {
    const text = "a;b,c;d\nModel;Serial,x;y\nVK-L8;A1,z;w\n";
    expect(read(text, { separator: ";", heading: 2 }).table.header).toEqual(["Model", "Serial,x", "y"]);
    expect(read(text, { heading: 0 }).rows).toHaveLength(3);
  });

  test("totals, repeated headings and lines without a device are never good", () => {
    const { rows, remarks } = read(
      "Model,Serial,Batt.\nVK-L8,A1,50\nModel,Serial,Batt.\nVK-L9,A2,60\n,,55\nTotal: 2,,\nSumme,,\n",
    );
    expect(good(rows).map((r) => r.serial)).toEqual(["A1", "A2"]);
    expect(remarks).toContain("total");
  });

  test("a line for several devices is seen, by its column or by what stands before the name", () => {
    const by = read("Model,Qty\nVK-L8,3\nVK-L9,1\n").rows;
    expect(by[0].problems[0].says).toContain("3 devices");
    expect(good(by)).toHaveLength(1);
    expect(read("Name,Batt.\n2 x Vista 20,50\n").rows[0].problems[0].says).toContain("2 devices");
  });
});

describe("headings", () => {
  test("“Model” is a number or a name: what no other column is, else what most of its cells are", () => {
    const columnsOf = (text: string) => read(text).columns;
    expect(columnsOf("Tag;Model\nT-1;Vista 20\nT-2;Lumen\nT-3;VK-2000\n")).toEqual(["tag", "model.name"]);
    expect(columnsOf("Tag;Modell\nT-1;VK-2000\nT-2;AB T510\nT-3;Vista 20\n")).toEqual(["tag", "model.number"]);
    expect(columnsOf("Tag;Modèle\nT-1;VISTA 20\n")).toEqual(["tag", "model.name"]);
    expect(columnsOf("Model;Model number\nVK-1;VK-2000\n")).toEqual(["model.name", "model.number"]);
    expect(columnsOf("Device;Model\nPhone;Vista 20\n")).toEqual([null, "model.name"]);
    expect(columnsOf("Device;Model\nVista 20;VK-2000\n")).toEqual(["model.name", "model.number"]);
    expect(columnsOf("Device Name,Model Name\nLab 1,Vista 20\n")).toEqual([null, "model.name"]);
    expect(columnsOf("Device name;Model no;Type\nVista 20;VK-2000;phone\n")).toEqual([
      "model.name",
      "model.number",
      null,
    ]);
  });

  test("“Handy-Nr” gives way to a column that says model", () => {
    expect(read("Handy-Nr;Modell;IMEI\n7;FN-A5;490154203237518\n").columns).toEqual([null, "model.number", "imei"]);
    expect(read("Handy-Nr;IMEI\nFN-A5;490154203237518\n").columns).toEqual(["model.number", "imei"]);
  });

  test.each([
    ["English", ["Mfr.", "Phone model", "Ser. no.", "SPL", "FW", "Batt. lvl", "BL locked", "Asset #"]],
    [
      "German",
      ["Fabrikat", "Modellbez.", "SerNr", "Sich.-Patch", "fw", "Akku-%", "Bootloader gesperrt", "Inventarnr."],
    ],
    [
      "French",
      ["Fabricant", "Nom de l'appareil", "Num. série", "MAJ sécurité", "FW", "Niveau batterie", "", "Étiquette"],
    ],
    ["Spanish", ["Fabricante", "Teléfono", "N.º de serie", "Parche seg.", "FW", "Bat.", "", "Etiqueta"]],
  ])("short forms, %s", (_language, heading) => {
    const columns = ["model.maker", "model.name", "serial", "build.patch", "firmware.version", "battery.percent"];
    expect(heading.map(columnOfHeading)).toEqual([...columns, heading[6] ? "bootloader.locked" : null, "tag"]);
  });

  test("what sounds alike and holds something else is no column", () => {
    for (const other of [
      "Charge cycles",
      "Battery health",
      "OEM",
      "Model year",
      "Patch cable",
      "Serie",
      "Price",
      "Locked",
    ])
      expect([other, columnOfHeading(other)]).toEqual([other, null]);
  });

  test.each([
    [
      "English",
      "S/N,Model no.,Android ver.,Batt.,Sec. patch,Donated by",
      ["serial", "model.number", "android.release", "battery.percent", "build.patch", "donor"],
    ],
    [
      "German",
      "Inventar-Nr.;Handy-Nr;Gerätename;Seriennr.;Akkustand;Sicherheitspatch;Spender",
      ["tag", "model.number", "model.name", "serial", "battery.percent", "build.patch", "donor"],
    ],
    [
      "French",
      "Étiquette;Modèle;N° de série;Version Android;Batterie;Correctif de sécurité;Donateur",
      ["tag", "model.number", "serial", "android.release", "battery.percent", "build.patch", "donor"],
    ],
    [
      "Spanish",
      "Etiqueta;Modelo;Nº de serie;Versión de Android;Batería;Parche de seguridad;Donante",
      ["tag", "model.number", "serial", "android.release", "battery.percent", "build.patch", "donor"],
    ],
  ] as const)("%s", (_language, heading, columns) => {
    const separator = heading.includes(";") ? ";" : ",";
    const { columns: seen } = read(
      `${heading}\n${heading
        .split(separator)
        .map(() => "x")
        .join(separator)}\n`,
    );
    expect(seen.map((c, i) => (columns[i] === null ? null : c))).toEqual(columns);
  });

  test.each([
    ["Tested on", "2021-07-05"],
    ["Size", "8"],
    ["Charge cycles", "71 %"],
    ["Locked", "no"],
    ["Product", "lumen"],
    ["Version", "11"],
  ])("“%s” means something else than its cells look like", (heading, cell) => {
    expect(read(`Model,${heading}\nVK-L8,${cell}\nVK-L9,${cell}\n`).columns).toEqual(["model.number", null]);
  });
});

describe("values", () => {
  const one = (column: string, ...cells: string[]) =>
    read(`Serial;${column}\n${cells.map((c, i) => `A${i};${c}`).join("\n")}\n`).rows;

  test("days: real, not to come, read where only one reading is left", () => {
    const says = (cell: string) => one("Security patch", cell)[0].problems[0]?.says ?? "";
    expect(says("2023-02-30")).toContain("no 2023-02-30");
    expect(says("2031-01-05")).toContain("still to come");
    expect(says("1999-01-05")).toContain("since 2015");
    expect(says("05/07/2021")).toContain("Which number is the month");
    expect(says("2021-07")).toContain("day is missing");
    expect(says("soon")).toContain("no day");
    for (const [cell, day] of [
      ["5.7.2021", "2021-07-05"],
      ["25/07/2021", "2021-07-25"],
      ["07/25/2021", "2021-07-25"],
      ["5 July 2021", "2021-07-05"],
      ["5. Juli 2021", "2021-07-05"],
      ["2021/07/05", "2021-07-05"],
      ["2021-07-05 00:00:00", "2021-07-05"],
    ])
      expect([cell, facts(one("Security patch", cell)[0])["build.patch"]]).toEqual([cell, day]);
  });

  test("one day of a column that can be read in one way decides for all", () => {
    const rows = one("Patch", "05/07/2021", "25/07/2021");
    expect(rows.map((r) => facts(r)["build.patch"])).toEqual(["2021-07-05", "2021-07-25"]);
    expect(one("Patch", "07/05/2021", "07/25/2021").map((r) => facts(r)["build.patch"])).toEqual([
      "2021-07-05",
      "2021-07-25",
    ]);
    // Both ways in one column: nobody can tell.
    expect(good(one("Patch", "05/07/2021", "25/07/2021", "07/25/2021")).length).toBe(2);
  });

  test("what no day of a column decides is asked once; what somebody said turns no day that can be read in one way", () => {
    const column = (...cells: string[]) => cells.map((cell) => ({ cells: [cell] }));
    const shape = (said: DayOrder | undefined, ...cells: string[]) => shapeOf("build.patch", column(...cells), 0, said);
    expect(shape(undefined, "05/07/2021", "04/08/2021")).toEqual({ asks: true });
    expect(shape("month", "05/07/2021", "04/08/2021")).toEqual({ asks: true, first: "month" });
    expect(shape("month", "05/07/2021", "25/07/2021")).toEqual({ first: "day" });
    expect(shape(undefined, "05/05/2021", "2021-07-05")).toEqual({});
    const mixed = shape("month", "05/07/2021", "25/07/2021", "07/25/2021");
    expect(mixed).toEqual({ asks: true, first: "month" });
    expect(["05/07/2021", "25/07/2021", "07/25/2021"].map((day) => plainValue("build.patch", day, mixed))).toEqual([
      "2021-05-07",
      "2021-07-25",
      "2021-07-25",
    ]);
  });

  test("levels: percent against fraction, by the whole column", () => {
    expect(one("Batt.", "0,71", "0.5", "1").map((r) => facts(r)["battery.percent"])).toEqual([71, 50, 100]);
    expect(one("Batt.", "71", "1").map((r) => facts(r)["battery.percent"])).toEqual([71, 1]);
    expect(one("Batt.", "171")[0].problems).toHaveLength(1);
    expect(one("Batt.", "full")[0].problems[0].says).toContain("no battery level");
  });

  test("releases there are; what is not known is left out", () => {
    expect(one("Android", "Android 11")[0].problems).toEqual([]);
    expect(one("Android", "77")[0].problems[0].says).toContain("no Android 77");
    for (const nothing of ["unknown", "n/a", "?", "-"])
      expect(one("Android", nothing)[0]).toMatchObject({ problems: [], facts: [] });
  });

  test("a cross and a no mean something where yes and no are asked, and nothing where a version is", () => {
    const rows = read("Serial;Bootloader;Android\nA1;x;9\nA2;nein;9\nA3;-;9\nA4;;x\n").rows;
    expect(rows.map((r) => facts(r)["bootloader.locked"])).toEqual([true, false, undefined, undefined]);
    expect(rows.map((r) => r.problems.length)).toEqual([0, 0, 0, 1]);
  });

  test("numbers that are none make no doublets, and no identity", () => {
    const rows = read(`Model;Serial;IMEI\nVK;unknown;000000000000000\nVK;n/a;unknown\nVK;-;4,90154E+14\n`).rows;
    expect(good(rows)).toHaveLength(3);
    expect(rows.map((r) => [r.serial, r.imei])).toEqual([
      [null, null],
      [null, null],
      [null, null],
    ]);
    expect(rows[2].remarks[0].says).toContain("rounded");
  });

  test("a wrong check digit is a remark, never an identity; what was mended is said", () => {
    const rows = read(`Model;IMEI\nVK;490154203237515\nVK;490154203237515\nVK;${IMEI}.0\n`).rows;
    expect(good(rows)).toHaveLength(3);
    expect(rows.map((r) => [r.imei, r.remarks[0].kind])).toEqual([
      [null, "check-digit"],
      [null, "check-digit"],
      [IMEI, "mended"],
    ]);
  });

  test("one serial in three spellings is one device", () => {
    const rows = read("Model,Serial\nVK,RTSN 1\nVK,RTSN-1\nVK,S/N RTSN1\n").rows;
    expect(rows.map((r) => r.problems.length)).toEqual([0, 1, 1]);
  });
});

describe("encodings", () => {
  // Published: WHATWG Encoding Standard, index windows-1252 (0xE9 is é, 0x80 is €).
  test("Windows-1252 is read and said", () => {
    const bytes = new Uint8Array([...new TextEncoder().encode("Model,Donor\nVK,Ren"), 0xe9, 0x65, 0x20, 0x80, 0x0a]);
    expect(decodeList(bytes)).toEqual({
      ok: true,
      text: "Model,Donor\nVK,Renée €\n",
      remark: expect.stringContaining("Windows-1252"),
    });
  });

  test.each([
    ["a PDF", "%PDF-1.7\n%\u00e2\u00e3\n1 0 obj"],
    ["a web page", "\ufeff<html xmlns:x='urn'><table><tr><td>Model</td></tr></table>"],
    ["a web page", "<!DOCTYPE html>\n<title>Phones</title>"],
    ["an XML file", '<?xml version="1.0"?><Workbook/>'],
    ["a text document", "{\\rtf1\\ansi Model;Serial}"],
    ["a JSON file", '[{"model":"Arlo 5"}]'],
  ])("%s under a list's name is told what it is", (is, text) => {
    expect(decodeList(new TextEncoder().encode(text))).toMatchObject({
      ok: false,
      says: expect.stringContaining(`This is ${is}`),
    });
  });

  test("a list whose heading is in brackets is one", () => {
    expect(decodeList(new TextEncoder().encode("[tag],[model]\nA-1,Vista\n"))).toMatchObject({ ok: true });
  });

  test("a DOS code page and a mixture are refused", () => {
    const ascii = (t: string) => [...new TextEncoder().encode(t)];
    expect(decodeList(new Uint8Array([...ascii("Ger"), 0x84, ...ascii("t;M"), 0x81, ...ascii("ller\n")])).ok).toBe(
      false,
    );
    expect(decodeList(new Uint8Array([...ascii("Ž"), 0xe9, 0x0a])).ok).toBe(false);
  });
});

describe("a line that stands for several devices", () => {
  const mapping = ["tag", "model.name", "serial", null] as const;
  test("by its column of quantities: each gets a line, the numbers stay with the first", () => {
    expect(splitLine(["T-1", "Arlo 5", "S1", "3"], mapping, 3)).toEqual([
      ["T-1", "Arlo 5", "S1", "1"],
      ["", "Arlo 5", "", "1"],
      ["", "Arlo 5", "", "1"],
    ]);
  });
  test("by “(3 pcs)” behind a model's name, and nowhere else", () => {
    const { rows } = read(
      "Device,Serial,Note\nArlo 5 (3 Stück),K1,charger (2 pcs)\nArlo 6,K2,cable (2 pcs)\nArlo X 3,K3,\n",
    );
    expect(rows.map((r) => r.many)).toEqual([3, 1, 1]);
    expect(splitLine(["Arlo 5 (3 Stück)", "K1", "charger (2 pcs)"], ["model.name", "serial", null], -1)).toEqual([
      ["Arlo 5", "K1", "charger (2 pcs)"],
      ["Arlo 5", "", "charger (2 pcs)"],
      ["Arlo 5", "", "charger (2 pcs)"],
    ]);
  });

  test("by “3 x” before its name, which is taken away; another cell that counts something stays as it is", () => {
    expect(splitLine(["", "2 x Arlo 5", "", "2 x charger"], mapping, -1)).toEqual([
      ["", "Arlo 5", "", "2 x charger"],
      ["", "Arlo 5", "", "2 x charger"],
    ]);
  });
  test("one device, or too many, stay one line", () => {
    for (const quantity of ["1", "0", "101", "many", ""])
      expect(splitLine(["", "Arlo 5", "", quantity], mapping, 3)).toHaveLength(1);
  });
});

test.each(["", "\n\n", "sep=;\n", ";;;\n;;;\n", "\ufeff"])("a list with nothing in it (%j) is told as that", (text) => {
  expect(readList(text)).toEqual({ ok: false, says: expect.stringContaining("The list is empty") });
  expect(readList(text, { heading: 1 })).toMatchObject({ ok: false });
});

test.each([
  ["Android 9 (Pie)", "9"],
  ["9 Pie", "9"],
  ["v8.1", "8.1"],
  ["Android version 8.1.0", "8.1"],
  ["API 28", "9"],
  ["SDK level 30", "11"],
  ["Pie", "9"],
  ["7.1.2 Nougat", "7.1.2"],
  ["10 (Q)", "10"],
  ["12L", "12L"],
  // Nobody knows which of them is meant.
  ["Oreo", "Oreo"],
  ["8.1 (Pie)", "8.1 (Pie)"],
  ["API 99", "API 99"],
  ["9 or 10", "9 or 10"],
  ["newest", "newest"],
])("the Android version %j is read as %j", (cell, release) => {
  expect(plainValue("android.release", cell)).toBe(release);
});

test("a day that a spreadsheet gave away as its number", () => {
  // ECMA-376: 44317 is 1 May 2021; what lies before the first patch is no day of one.
  expect(plainValue("build.patch", "44317")).toBe("2021-05-01");
  expect(plainValue("build.patch", "12345")).toBe("12345");
  const [row] = read("Model,Patch date\nVK-L8,44317\n").rows;
  expect(row.problems).toEqual([]);
});
