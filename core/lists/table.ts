import { type Options, parse } from "csv-parse/sync";
import iconv from "iconv-lite";
import { carryDown } from "./blocks";
import { isUnnamed, nameColumns } from "./columns";
import { findTable, type Line } from "./findTable";
import { MAX_LIST_BYTES, MAX_LIST_ROWS } from "./limits";
import { type Found, type Reading, SEPARATORS, type Separator } from "./reading";

/** Most columns: people's lists have tens, a runaway spreadsheet has thousands. */
const MAX_COLUMNS = 200;
/** Longest text of a cell that is kept. */
const MAX_CELL = 2000;

/** A list as it stands in a file: first line the header, every row as wide as the header. */
export interface Table {
  readonly header: readonly string[];
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[];
  /** Worth knowing, but no reason to stop. */
  readonly remarks: readonly string[];
  /** What was taken for what, so that a person can say otherwise. */
  readonly found?: Found;
}

export type TableReading = ({ readonly ok: true } & Table) | { readonly ok: false; readonly says: string };

export type Decoded =
  | { readonly ok: true; readonly text: string; readonly remark?: string }
  | { readonly ok: false; readonly says: string };

const refuse = (says: string) => ({ ok: false as const, says });

/** What comes under a list's name and is none: how it begins, and what it is. Programs call a web page ".xls", too. */
const NO_LISTS: readonly (readonly [begins: RegExp, is: string])[] = [
  [/^%PDF-/, "a PDF"],
  [/^\{\\rtf/, "a text document (RTF)"],
  [/^\s*<(!doctype html|html|table|meta)\b/i, "a web page"],
  [/^\s*<\?xml\b/i, "an XML file"],
  [/^\s*[[{]\s*(["[{]|$)/, "a JSON file"],
];

/**
 * Turns the bytes of a list into text.
 *
 * UTF-8 with or without mark, UTF-16 with mark, and UTF-16 without one where every other byte is empty. A file without any
 * sequence of UTF-8 that holds other bytes is read as Windows-1252, and that is said: accents are to be looked at. A mixture,
 * or bytes that Windows-1252 does not have, are refused with what to do.
 *
 * @source RFC 4180 for the format; the Unicode byte order marks; WHATWG Encoding Standard for windows-1252
 * @example decodeList(new TextEncoder().encode("tag\n")).text // "tag\n"
 */
export function decodeList(bytes: Uint8Array): Decoded {
  if (bytes.length > MAX_LIST_BYTES)
    return refuse(
      `The file has ${(bytes.length / 1e6).toFixed(0)} MB; a list may have ${MAX_LIST_BYTES / 1e6} MB. Split it, or save only the columns that are needed`,
    );
  const encoding = utf16Of(bytes) ?? "utf-8";
  const begin = new TextDecoder(encoding).decode(bytes.subarray(0, 400));
  const other = NO_LISTS.find(([begins]) => begins.test(begin));
  if (other)
    return refuse(
      `This is ${other[1]}, and no list. Open it in a spreadsheet, save it as .xlsx or .csv, and take that file`,
    );
  let text: string;
  try {
    text = new TextDecoder(encoding, { fatal: true }).decode(bytes).replace(/^\uFEFF/, "");
  } catch {
    if (encoding === "utf-8" && isWindows1252(bytes))
      return {
        ok: true,
        text: iconv.decode(bytes, "windows-1252"),
        remark: "The file is not UTF-8: it was read as Windows-1252. Look at names with accents before you take it in",
      };
    return refuse(`${wrongByteAt(bytes, encoding)}. In the spreadsheet choose “Save as CSV UTF-8” and take that file`);
  }
  const nul = text.indexOf("\0");
  if (nul >= 0)
    return refuse(
      `Line ${text.slice(0, nul).split("\n").length} holds NUL bytes: this is not a text file. Export the list as CSV, UTF-8`,
    );
  return { ok: true, text };
}

/**
 * Whether bytes can be Windows-1252: no sequence of UTF-8 among them, none of the five bytes that it leaves empty, and of the
 * others letters and signs as people's lists have them (DOS code pages put their letters where it has marks).
 */
function isWindows1252(bytes: Uint8Array): boolean {
  let letters = 0;
  let marks = 0;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (byte < 0x80) {
      if (byte === 0) return false;
      continue;
    }
    if (byte === 0x81 || byte === 0x8d || byte === 0x8f || byte === 0x90 || byte === 0x9d) return false;
    if (byte >= 0xc2 && byte <= 0xf4 && (bytes[i + 1] & 0xc0) === 0x80) return false;
    if (byte >= 0xc0) letters++;
    else if (byte < 0xa0) marks++;
  }
  return letters >= marks;
}

/** UTF-16 by its mark; without a mark where a Latin text shows every other byte empty. */
function utf16Of(bytes: Uint8Array): "utf-16le" | "utf-16be" | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return "utf-16le";
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return "utf-16be";
  const sample = bytes.subarray(0, 512);
  if (sample.length < 8 || sample.length % 2) return null;
  let even = 0;
  let odd = 0;
  sample.forEach((byte, i) => {
    if (byte === 0) i % 2 ? odd++ : even++;
  });
  const most = sample.length * 0.3;
  return odd > most && even === 0 ? "utf-16le" : even > most && odd === 0 ? "utf-16be" : null;
}

/** Names the line where a text stops being what it began as: mixed encodings come from pasting two files together. */
function wrongByteAt(bytes: Uint8Array, encoding: string): string {
  if (encoding !== "utf-8") return "The file breaks off in the middle of a UTF-16 character";
  let line = 1;
  let from = 0;
  for (let i = 0; i <= bytes.length; i++) {
    if (i < bytes.length && bytes[i] !== 0x0a) continue;
    try {
      new TextDecoder("utf-8", { fatal: true }).decode(bytes.subarray(from, i));
    } catch {
      return `Line ${line} is not UTF-8${line > 1 ? ", though the lines before it are" : ""}`;
    }
    line++;
    from = i + 1;
  }
  return "The file is not UTF-8";
}

/**
 * Reads comma, semicolon or tab separated text, quoted cells.
 *
 * @param maxRows more are refused
 * @returns the table, or what is wrong with the line it stands on
 * @source RFC 4180
 * @example readCsv("tag,model\nA-1,Vista").rows.length // 1
 */
export function readCsv(text: string, maxRows = MAX_LIST_ROWS): TableReading {
  const read = readLines(text, { maxRows });
  return "says" in read ? read : tableOf(read.lines, [], maxRows);
}

/**
 * Reads people's own list out of a text: finds its separator, its heading, and the rows under it.
 *
 * @returns the table with what was found and what was left out, said in its remarks
 * @example readList("tag;model\nT-1;Lumen").header // ["tag", "model"]
 */
export function readList(text: string, reading: Reading = {}): TableReading {
  const read = readLines(text, { separator: reading.separator, keepBars: true });
  if ("says" in read) return read;
  const table = listOf(read.lines, reading);
  return table.ok && table.found ? { ...table, found: { ...table.found, separator: read.separator } } : table;
}

/**
 * A table of devices among lines: with what was found and left out said in its remarks.
 *
 * @example listOf([], {}).ok // false
 */
export function listOf(lines: readonly Line[], reading: Reading, remarks: readonly string[] = []): TableReading {
  if (!lines.some((l) => l.cells.some((c) => c.trim() !== ""))) return tableOf([]);
  const { heading, header, body, remarks: seen } = findTable(lines, reading.heading);
  const carried = carryDown(header, body, reading.carry ?? []);
  const table = tableOf(
    [{ line: heading ?? 0, cells: header }, ...carried.lines],
    [...remarks, ...seen, ...carried.remarks],
  );
  return table.ok ? { ...table, found: { heading, blocks: carried.blocks } } : table;
}

/** Lines of a text, cell by cell, with the separator that was taken. */
function readLines(
  text: string,
  {
    maxRows = MAX_LIST_ROWS,
    separator,
    keepBars = false,
  }: { maxRows?: number; separator?: Separator; keepBars?: boolean },
): { readonly lines: readonly Line[]; readonly separator: Separator } | { readonly ok: false; readonly says: string } {
  // A line that only names the separator is for the spreadsheet.
  const named = /^\s*sep\s*=\s*(.)\s*\r?\n/i.exec(text.slice(0, 20));
  const rest = named ? text.slice(named[0].length) : text;
  const said = named && Object.hasOwn(SEPARATORS, named[1]) ? (named[1] as Separator) : undefined;
  const delimiter = separator ?? said ?? separatorOf(rest, keepBars);
  const level = levelled(rest, delimiter);
  const first = (named ? 1 : 0) - (level === rest ? 0 : 1);
  const options = {
    delimiter,
    relax_column_count: true,
    skip_empty_lines: true,
    trim: true,
    // A quote inside a cell is one (Tab 10"); at its beginning it opens a quoted one, and that holds the whole cell: what
    // it takes in otherwise may be other cells, or other lines.
    relax_quotes: true,
  };
  // csv-parse counts the lines read so far: the line a record ends on.
  let lines: readonly Line[];
  try {
    // Read twice where it may be too long: what is refused is not held in memory first.
    if (linesOf(rest) > maxRows) passThrough(level, options, maxRows + MAX_ABOVE);
    lines = linesKept(level, options, first);
    // Asking of each cell whether it was quoted takes the reader five times as long: only where one begins with a quote.
    if (lines.some(({ cells }) => cells.some((cell) => cell.startsWith('"')))) refuseHalfQuoted(level, options);
  } catch (error) {
    if (error instanceof TooMany) return tooMany(maxRows);
    const { lines, code } = error as { lines?: number; code?: string };
    const what =
      error instanceof HalfQuoted || code?.includes("QUOTE")
        ? "a quote is opened and not closed, or closed in the middle of a cell"
        : (error as Error).message;
    return refuse(`Line ${lines === undefined ? "?" : lines + first}: ${what}. Mend that line and try again`);
  }
  return { lines: delimiter === "|" ? lines.map(withoutBars) : lines, separator: delimiter };
}

const holdsSomething = (cells: readonly string[]) => cells.some((cell) => cell !== "");

class TooMany extends Error {}
const tooMany = (rows: number) =>
  refuse(`The list has more than ${rows.toLocaleString("en")} rows. Split it. Nothing was taken in`);

/** Lines of a text, with either line end. */
function linesOf(text: string): number {
  let feeds = 0;
  let returns = 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === 10) feeds++;
    else if (code === 13) returns++;
  }
  return Math.max(feeds, returns) + 1;
}

/** Most lines of titles, notes and headings above a table that still leave it all its rows. */
const MAX_ABOVE = 100;

/** Reads a text and keeps nothing of it. @throws {TooMany} as soon as it holds more lines with something in them */
function passThrough(text: string, options: Options, most: number) {
  let n = 0;
  parse(text, {
    ...options,
    on_record: (cells) => {
      if (holdsSomething(cells) && ++n > most) throw new TooMany();
      return null;
    },
  });
}

/** The lines of a text from the first that holds something; of empty ones in a row one is kept: spreadsheets write them by the hundred thousand. */
function linesKept(text: string, options: Options, before: number): Line[] {
  const kept: Line[] = [];
  let blank = true;
  parse(text, {
    ...options,
    on_record: (cells, { lines }) => {
      const blankBefore = blank;
      blank = !holdsSomething(cells);
      if (!(blank && blankBefore)) kept.push({ line: lines + before, cells });
      return null;
    },
  });
  return kept;
}

/** A cell that begins with a quote which does not hold the whole of it. */
class HalfQuoted extends Error {
  constructor(readonly lines: number) {
    super("half quoted");
  }
}

function refuseHalfQuoted(text: string, options: Options) {
  parse(text, {
    ...options,
    cast: (cell, { quoting, lines }) => {
      if (!quoting && cell.startsWith('"')) throw new HalfQuoted(lines);
      return cell;
    },
    on_record: () => null,
  });
}

/**
 * A text behind an empty line as long as most of its own: csv-parse makes an error of each line that is not as long as the
 * first, and drops it where that is allowed; under a title of one cell that is every line, and takes four times as long.
 */
function levelled(text: string, delimiter: Separator): string {
  const end = /\r\n|\n|\r/.exec(text)?.[0];
  const [most] = [...widthsOf(firstLines(text), delimiter)].sort(([, a], [, b]) => b - a)[0] ?? [0];
  return end && most > 0 ? delimiter.repeat(most) + end + text : text;
}

/** A row as "| a | b |" writes it, without the empty cells at its ends. */
const withoutBars = (l: Line): Line => ({
  line: l.line,
  cells: l.cells.slice(l.cells[0] === "" ? 1 : 0, l.cells.length > 1 && l.cells.at(-1) === "" ? -1 : undefined),
});

/** Lines at the beginning of a text that hold something, without what is quoted in them. */
const firstLines = (text: string) =>
  text
    .slice(0, 50_000)
    .split(/\r\n|\n|\r/)
    .slice(0, 40)
    .map((l) => l.replace(/"[^"]*"/g, ""))
    .filter((l) => l.trim() !== "");

/** How many lines have a separator how often. */
function widthsOf(lines: readonly string[], separator: string): Map<number, number> {
  const widths = new Map<number, number>();
  for (const l of lines) {
    const n = l.split(separator).length - 1;
    widths.set(n, (widths.get(n) ?? 0) + 1);
  }
  return widths;
}

/** The separator that most lines have equally often, outside quotes; titles above a table have none. */
function separatorOf(text: string, bars: boolean): Separator {
  const lines = firstLines(text);
  const rank = (separator: string) => {
    const counts = [...widthsOf(lines, separator)].filter(([n]) => n > 0);
    // Lines that agree, then how many cells they make.
    return Math.max(0, ...counts.map(([n, agree]) => agree * 1000 + n)) + (lines[0]?.includes(separator) ? 1 : 0);
  };
  const candidates = (Object.keys(SEPARATORS) as Separator[]).filter((s) => bars || s !== "|");
  return candidates.map((s) => [rank(s), s] as const).sort(([a], [b]) => b - a)[0][1];
}

/** Makes a table of rows out of any file: the first row that holds something is the header. */
export function tableOf(
  lines: readonly { readonly line: number; readonly cells: readonly string[] }[],
  remarks: readonly string[] = [],
  maxRows = MAX_LIST_ROWS,
): TableReading {
  const filled = lines.filter((l) => l.cells.some((c) => c.trim() !== ""));
  const [head, ...body] = filled;
  if (!head)
    return refuse("The list is empty. Its first line names the columns, for example: tag,model number,android,serial");
  if (head.cells.length > MAX_COLUMNS)
    return refuse(
      `The list has ${head.cells.length} columns; ${MAX_COLUMNS} at most are read. Keep the ones that are needed`,
    );
  if (body.length === 0) return refuse("There is a header and no device under it. Add at least one line");
  if (body.length > maxRows) return tooMany(maxRows);
  const header = nameColumns(head.cells);
  while (header.length > 1 && isUnnamed(header.at(-1) ?? "") && body.every((r) => !r.cells[header.length - 1]))
    header.pop();
  return { ok: true, header, rows: body.map(({ line, cells }) => ({ line, cells: cells.map(cellText) })), remarks };
}

/**
 * A cell without the apostrophe that keeps a spreadsheet from running it: what we wrote ourselves comes back as it was. ="0815" is
 * how a number is kept from being counted with.
 */
const cellText = (cell: string) =>
  cell
    .slice(0, MAX_CELL)
    .replace(/^'(?=[=+\-@\t\r])/, "")
    .replace(/^="([^"]*)"$/, "$1");
