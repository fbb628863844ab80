import type { CellObject, Range, WorkSheet } from "@e965/xlsx";
import { Unzip, UnzipInflate } from "fflate";
import { columnOfHeading } from "~/core/lists/columns";
import { MAX_LIST_BYTES, MAX_LIST_ROWS } from "~/core/lists/limits";
import type { Reading } from "~/core/lists/reading";
import { listOf, type TableReading } from "~/core/lists/table";

/** Most that a workbook may unpack to, bytes: the largest list that is taken has half of it. */
const MAX_UNPACKED = 64_000_000;
/** Most files that may be packed into one: a workbook full of pictures has some hundreds. */
const MAX_PARTS = 5000;

/** A workbook of today: a zip whose first entry begins here. */
export const isXlsx = (bytes: Uint8Array) => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
/** A compound file: an old workbook, or one with a password. */
export const isOldXls = (bytes: Uint8Array) =>
  bytes[0] === 0xd0 && bytes[1] === 0xcf && bytes[2] === 0x11 && bytes[3] === 0xe0;

/** What is said of a compound file: one with a password holds a stream of that name (MS-OFFCRYPTO, 2.3.4.4), others are old. */
export const sayOfOldXls = (bytes: Uint8Array): string =>
  Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).includes(Buffer.from("EncryptedPackage", "utf16le"))
    ? "This workbook has a password. Open it, take the password off (save a copy without one), and take that file"
    : "This is a workbook of the old kind (.xls). Open it, save it as .xlsx, and take that file";

const refuse = (says: string) => ({ ok: false as const, says });

/**
 * Reads a sheet of a workbook (.xlsx, .ods): the one a person named, else the one with most headings that are known among
 * those that are shown. Hidden sheets, hidden rows, merged cells and error values are said; a merged value is carried down.
 *
 * The file is unpacked once without keeping anything, so that a bomb is told from a list before anything is built from it.
 * Macros are never run; formulas are never worked out: what the spreadsheet last showed is taken.
 *
 * @source ECMA-376 (Office Open XML) and OASIS OpenDocument 1.3, read by the SheetJS package
 */
export async function readXlsx(bytes: Uint8Array, reading: Reading = {}): Promise<TableReading> {
  if (bytes.length > MAX_LIST_BYTES)
    return refuse(
      `The workbook has ${(bytes.length / 1e6).toFixed(0)} MB; a list may have ${MAX_LIST_BYTES / 1e6} MB. Keep only the sheet with the devices`,
    );
  const inside = lookInside(bytes);
  if (typeof inside === "string") return refuse(inside);
  if (!inside.names.some((n) => n.startsWith("xl/worksheets/") || n === "content.xml"))
    return refuse("This zip file is no workbook. Save the list as .xlsx or as CSV UTF-8 and take that file");
  const remarks = inside.names.some((n) => /vbaProject/i.test(n))
    ? ["The workbook holds macros. They were not run and not kept"]
    : [];
  try {
    return await readSheets(bytes, reading, remarks);
  } catch {
    // What the reader has to say is for its makers: bytes and sizes of the package.
    return refuse(
      "The workbook can't be read: it is cut short, damaged, or not as a spreadsheet writes it. Open it in the spreadsheet program, save it again as .xlsx or as CSV UTF-8",
    );
  }
}

const DAMAGED = "The workbook is damaged or was cut short. Get it again, or save it anew";

/** Names of what is packed, after unpacking all of it once; or what is wrong. */
function lookInside(bytes: Uint8Array): { names: string[] } | string {
  const names: string[] = [];
  let total = 0;
  let broken = false;
  const unzip = new Unzip((file) => {
    if (names.push(file.name) > MAX_PARTS) throw new TooLarge(`is packed of more than ${MAX_PARTS} parts`);
    file.ondata = (error, chunk) => {
      broken ||= error !== null;
      total += chunk?.length ?? 0;
      if (total > MAX_UNPACKED) throw new TooLarge(`unpacks to more than ${MAX_UNPACKED / 1e6} MB`);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    // In slices: a bomb is stopped after the slice that bursts the limit.
    for (let at = 0; at < bytes.length; at += 65_536)
      unzip.push(bytes.subarray(at, at + 65_536), at + 65_536 >= bytes.length);
  } catch (error) {
    if (error instanceof TooLarge)
      return `The workbook ${error.message}: that is no device list. Nothing was read from it`;
    return DAMAGED;
  }
  return broken ? DAMAGED : { names };
}

class TooLarge extends Error {}

/** Most columns looked at: a runaway spreadsheet has thousands. */
const MAX_COLUMNS = 400;

async function readSheets(bytes: Uint8Array, reading: Reading, remarks: string[]): Promise<TableReading> {
  // Loaded when it is needed: it takes longer to load than most lists take to read.
  const { default: Sheets } = await import("@e965/xlsx");
  const book = Sheets.read(bytes, {
    type: "array",
    cellDates: true,
    cellNF: true,
    cellStyles: true,
    // The value of a cell is read, not how the spreadsheet shows it: that would be made for each of them.
    cellHTML: false,
    cellText: false,
    dense: true,
    UTC: true,
    // How large the sheet says it is may be wrong: rows beyond that would be lost without a word.
    nodim: true,
    sheetRows: MAX_LIST_ROWS + 100,
  });
  const hidden = new Set((book.Workbook?.Sheets ?? []).flatMap((s, i) => (s.Hidden ? [book.SheetNames[i]] : [])));
  const filled = book.SheetNames.filter((name) => book.Sheets[name]?.["!ref"]);
  const shown = filled.filter((name) => !hidden.has(name));
  const wanted = filled.filter((name) => name === reading.sheet);
  const candidates = [wanted, shown, filled].find((names) => names.length > 0) ?? [];
  const sheet = bestOf(candidates.map((name) => ({ name, ...linesOf(book.Sheets[name], Sheets.utils) })));
  if (!sheet) return listOf([], {}, remarks);
  if (sheet.lines.length > MAX_LIST_ROWS + 1)
    return refuse(`The sheet has more than ${MAX_LIST_ROWS.toLocaleString("en")} rows. Split it. Nothing was taken in`);
  if (filled.length > 1)
    remarks.push(`The workbook has ${filled.length} sheets that hold something: “${sheet.name}” was read`);
  const secret = filled.filter((name) => hidden.has(name));
  if (secret.length) remarks.push(`Hidden in the workbook: ${secret.map((n) => `“${n}”`).join(", ")}`);
  const table = listOf(sheet.lines, reading, [...remarks, ...sheet.remarks]);
  return table.ok && table.found ? { ...table, found: { ...table.found, sheet: sheet.name, sheets: filled } } : table;
}

interface SheetLines {
  readonly name: string;
  readonly lines: readonly { readonly line: number; readonly cells: readonly string[] }[];
  readonly remarks: readonly string[];
}

/** The sheet with most headings that are known; the first where none has any. */
function bestOf(sheets: readonly SheetLines[]): SheetLines | undefined {
  const rank = (s: SheetLines) =>
    Math.max(0, ...s.lines.slice(0, 40).map((l) => l.cells.filter((c) => columnOfHeading(c) !== null).length)) +
    (s.lines.length > 1 ? 0.5 : 0);
  const ranks = sheets.map(rank);
  return sheets[ranks.indexOf(Math.max(...ranks))];
}

/** How the package reads the address of a range. */
interface Addresses {
  readonly decode_range: (range: string) => Range;
}

const cellAt = (sheet: WorkSheet, r: number, c: number): CellObject | undefined => sheet["!data"]?.[r]?.[c];

function linesOf(sheet: WorkSheet, addresses: Addresses): Omit<SheetLines, "name"> {
  const { s: from, e: to } = addresses.decode_range(String(sheet["!ref"]));
  const down = carriedDown(sheet);
  const lines: { line: number; cells: string[] }[] = [];
  const hiddenRows: number[] = [];
  let formulas = 0;
  let errors = 0;
  let carried = 0;
  const last = Math.min(to.c, MAX_COLUMNS - 1);
  for (let r = from.r; r <= to.r; r++) {
    const cells: string[] = [];
    for (let c = 0; c <= last; c++) {
      const cell = cellAt(sheet, r, c);
      if (cell?.f !== undefined) formulas++;
      let text = cell ? textOf(cell) : "";
      if (cell?.t === "e" || /^#(N\/A|REF!|VALUE!|NAME\?|NUM!|NULL!|DIV\/0!)$/.test(text)) {
        errors++;
        text = "";
      }
      const above = text === "" ? down.get(`${r} ${c}`) : undefined;
      if (above) {
        text = textOf(above);
        carried++;
      }
      cells.push(text);
    }
    while (cells.length > 1 && cells.at(-1) === "") cells.pop();
    if (cells.every((c) => c === "")) continue;
    lines.push({ line: r + 1, cells });
    if (sheet["!rows"]?.[r]?.hidden) hiddenRows.push(r + 1);
  }
  const remarks: string[] = [];
  if (hiddenRows.length)
    remarks.push(
      `${hiddenRows.length === 1 ? "One row is" : `${hiddenRows.length} rows are`} hidden or filtered away in the spreadsheet and ${hiddenRows.length === 1 ? "was" : "were"} read all the same: line ${hiddenRows.slice(0, 8).join(", ")}${hiddenRows.length > 8 ? " …" : ""}`,
    );
  if (carried)
    remarks.push(
      `${carried === 1 ? "One cell belongs to a merged one" : `${carried} cells belong to merged ones`}: the merged value was carried down`,
    );
  if (errors)
    remarks.push(
      `${errors === 1 ? "One cell holds" : `${errors} cells hold`} an error of the spreadsheet (#N/A and the like): read as empty`,
    );
  if (formulas > 0)
    remarks.push(
      `${formulas === 1 ? "One cell holds a formula" : `${formulas} cells hold formulas`}: what the spreadsheet last showed was taken, nothing was worked out`,
    );
  return { lines, remarks };
}

/** For each cell below the first of a merged column: the cell whose value it has. What is merged sideways is a title. */
function carriedDown(sheet: WorkSheet): ReadonlyMap<string, CellObject> {
  const down = new Map<string, CellObject>();
  for (const { s, e } of (sheet["!merges"] ?? []).slice(0, 50_000)) {
    const cell = cellAt(sheet, s.r, s.c);
    if (!cell || s.c !== e.c) continue;
    for (let r = s.r + 1; r <= Math.min(e.r, s.r + MAX_LIST_ROWS); r++) down.set(`${r} ${s.c}`, cell);
  }
  return down;
}

/** A cell as a person sees it, but numbers whole and days as ISO dates. */
function textOf(cell: CellObject): string {
  const { v, t, z } = cell;
  if (v === undefined || v === null || t === "z") return "";
  if (v instanceof Date) return Number.isNaN(v.getTime()) ? "" : v.toISOString().slice(0, 10);
  if (typeof v === "number") {
    if (t === "e") return "#N/A";
    if (typeof z === "string" && z.includes("%")) return `${Number((v * 100).toFixed(4))}%`;
    return Number.isInteger(v) ? BigInt(v).toString() : String(v);
  }
  if (typeof v === "boolean") return v ? "yes" : "no";
  return String(v).trim();
}
