import { Readable } from "node:stream";
import type ExcelJS from "exceljs";
import { Unzip, UnzipInflate } from "fflate";
import { MAX_LIST_BYTES, MAX_LIST_ROWS } from "~/core/lists/limits";
import { type TableReading, tableOf } from "~/core/lists/table";

/** Most that a workbook may unpack to, bytes. */
const MAX_UNPACKED = 120_000_000;

/** A workbook of today: a zip whose first entry begins here. */
export const isXlsx = (bytes: Uint8Array) => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
/** A compound file: an old workbook, or one with a password. */
export const isOldXls = (bytes: Uint8Array) =>
  bytes[0] === 0xd0 && bytes[1] === 0xcf && bytes[2] === 0x11 && bytes[3] === 0xe0;

const refuse = (says: string) => ({ ok: false as const, says });

/**
 * Reads the first sheet of a workbook that holds something.
 *
 * The file is unpacked once without keeping anything, so that a bomb is told from a list before anything is built from it.
 * Macros are never run; formulas are never worked out: what the spreadsheet last showed is taken.
 *
 * @source ECMA-376 (Office Open XML), read by the exceljs package
 */
export async function readXlsx(bytes: Uint8Array): Promise<TableReading> {
  if (bytes.length > MAX_LIST_BYTES)
    return refuse(
      `The workbook has ${(bytes.length / 1e6).toFixed(0)} MB; a list may have ${MAX_LIST_BYTES / 1e6} MB. Keep only the sheet with the devices`,
    );
  const inside = lookInside(bytes);
  if (typeof inside === "string") return refuse(inside);
  if (!inside.names.some((n) => n.startsWith("xl/worksheets/")))
    return refuse("This zip file is no workbook. Save the list as .xlsx or as CSV UTF-8 and take that file");
  const remarks = inside.names.some((n) => /vbaProject/i.test(n))
    ? ["The workbook holds macros. They were not run and not kept"]
    : [];
  try {
    return await firstSheet(bytes, remarks);
  } catch (error) {
    return refuse(
      `The workbook can't be read (${(error as Error).message.slice(0, 120)}). Open it in the spreadsheet program, save it again as .xlsx or as CSV UTF-8`,
    );
  }
}

/** Names of what is packed, after unpacking all of it once; or what is wrong. */
function lookInside(bytes: Uint8Array): { names: string[] } | string {
  const names: string[] = [];
  let total = 0;
  let broken: string | null = null;
  const unzip = new Unzip((file) => {
    names.push(file.name);
    file.ondata = (error, chunk) => {
      if (error) broken ??= error.message;
      total += chunk?.length ?? 0;
      if (total > MAX_UNPACKED) throw new TooLarge();
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
      return `The workbook unpacks to more than ${MAX_UNPACKED / 1e6} MB: that is no device list. Nothing was read from it`;
    return `The workbook is damaged (${(error as Error).message}). Get it again, or save it anew`;
  }
  return broken ? `The workbook is damaged (${broken}). Get it again, or save it anew` : { names };
}

class TooLarge extends Error {}

async function firstSheet(bytes: Uint8Array, remarks: string[]): Promise<TableReading> {
  // Loaded when it is needed: it takes longer to load than most lists take to read.
  const { default: Excel } = await import("exceljs");
  const reader = new Excel.stream.xlsx.WorkbookReader(Readable.from([Buffer.from(bytes)]), {
    worksheets: "emit",
    sharedStrings: "cache",
    styles: "cache",
    hyperlinks: "ignore",
    entries: "ignore",
  });
  let found: { line: number; cells: string[] }[] | null = null;
  let formulas = 0;
  let sheets = 0;
  for await (const sheet of reader) {
    sheets++;
    const lines: { line: number; cells: string[] }[] = [];
    for await (const row of sheet) {
      if (found) continue;
      if (lines.length > MAX_LIST_ROWS + 1)
        return refuse(
          `The sheet has more than ${MAX_LIST_ROWS.toLocaleString("en")} rows. Split it. Nothing was taken in`,
        );
      const cells: string[] = [];
      row.eachCell({ includeEmpty: false }, (cell, column) => {
        if (column > 400) return;
        while (cells.length < column - 1) cells.push("");
        const read = cellText(cell);
        if (read.formula) formulas++;
        cells[column - 1] = read.text;
      });
      if (cells.some((c) => c !== "")) lines.push({ line: row.number, cells });
    }
    if (lines.length > 0) found ??= lines;
  }
  if (sheets > 1) remarks.push("The workbook has several sheets: the first one that holds something was read");
  if (formulas > 0)
    remarks.push(`${formulas} cells hold formulas: what the spreadsheet last showed was taken, nothing was worked out`);
  return tableOf(found ?? [], remarks);
}

/** A cell as a person sees it. */
function cellText(cell: ExcelJS.Cell): { text: string; formula: boolean } {
  const { value } = cell;
  if (value !== null && typeof value === "object" && ("formula" in value || "sharedFormula" in value))
    return { text: plain((value as ExcelJS.CellFormulaValue).result ?? "", cell.numFmt), formula: true };
  return { text: plain(value, cell.numFmt), formula: false };
}

function plain(value: ExcelJS.CellValue, format: string | undefined): string {
  if (value === null || value === undefined) return "";
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? "" : value.toISOString().slice(0, 10);
  if (typeof value === "number") {
    if (format?.includes("%")) return `${Number((value * 100).toFixed(4))}%`;
    return Number.isInteger(value) ? BigInt(value).toString() : String(value);
  }
  if (typeof value !== "object") return String(value).trim();
  if ("richText" in value)
    return value.richText
      .map((r) => r.text)
      .join("")
      .trim();
  if ("text" in value) return String(value.text).trim();
  return "";
}
