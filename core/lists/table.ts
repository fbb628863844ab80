import { parse } from "csv-parse/sync";
import { MAX_LIST_BYTES, MAX_LIST_ROWS } from "./limits";

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
}

export type TableReading = ({ readonly ok: true } & Table) | { readonly ok: false; readonly says: string };

export type Decoded = { readonly ok: true; readonly text: string } | { readonly ok: false; readonly says: string };

const refuse = (says: string) => ({ ok: false as const, says });

/**
 * Turns the bytes of a list into text.
 *
 * UTF-8 with or without mark, UTF-16 with mark, and UTF-16 without one where every other byte is empty. Anything else is
 * refused with what to do, never guessed: a wrong guess would silently change names and numbers.
 *
 * @source RFC 4180 for the format; the Unicode byte order marks for the encoding
 */
export function decodeList(bytes: Uint8Array): Decoded {
  if (bytes.length > MAX_LIST_BYTES)
    return refuse(
      `The file has ${(bytes.length / 1e6).toFixed(0)} MB; a list may have ${MAX_LIST_BYTES / 1e6} MB. Split it, or save only the columns that are needed`,
    );
  const encoding = utf16Of(bytes) ?? "utf-8";
  let text: string;
  try {
    text = new TextDecoder(encoding, { fatal: true }).decode(bytes).replace(/^\uFEFF/, "");
  } catch {
    return refuse(`${wrongByteAt(bytes, encoding)}. In the spreadsheet choose “Save as CSV UTF-8” and take that file`);
  }
  const nul = text.indexOf("\0");
  if (nul >= 0)
    return refuse(
      `Line ${text.slice(0, nul).split("\n").length} holds NUL bytes: this is not a text file. Export the list as CSV, UTF-8`,
    );
  return { ok: true, text };
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
 */
export function readCsv(text: string, maxRows = MAX_LIST_ROWS): TableReading {
  let records: { record: string[]; info: { lines: number } }[];
  try {
    records = parse(text, {
      delimiter: delimiterOf(text),
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
      info: true,
      to: maxRows + 2,
    }) as unknown as typeof records;
  } catch (error) {
    const { lines, code } = error as { lines?: number; code?: string };
    const what = code?.includes("QUOTE")
      ? "a quote is opened and not closed, or stands in the middle of a cell"
      : (error as Error).message;
    return refuse(`Line ${lines ?? "?"}: ${what}. Mend that line and try again`);
  }
  // csv-parse counts the lines read so far: the line a record ends on.
  return tableOf(
    records.map(({ record, info }) => ({ line: info.lines, cells: record })),
    [],
    maxRows,
  );
}

/** The separator that the first line has most of, outside quotes. */
function delimiterOf(text: string): string {
  const first = (text.split(/\r?\n/, 1)[0] ?? "").replace(/"[^"]*"/g, "");
  return [",", ";", "\t"].sort((a, b) => first.split(b).length - first.split(a).length)[0];
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
  if (body.length > maxRows)
    return refuse(`The list has more than ${maxRows.toLocaleString("en")} rows. Split it. Nothing was taken in`);
  const header = head.cells.map((name, i) => name.trim().slice(0, 80) || `column ${i + 1}`);
  while (
    header.length > 1 &&
    /^column \d+$/.test(header.at(-1) ?? "") &&
    body.every((r) => !r.cells[header.length - 1])
  )
    header.pop();
  return { ok: true, header, rows: body.map(({ line, cells }) => ({ line, cells: cells.map(cellText) })), remarks };
}

/** A cell without the apostrophe that keeps a spreadsheet from running it: what we wrote ourselves comes back as it was. */
const cellText = (cell: string) => cell.slice(0, MAX_CELL).replace(/^'(?=[=+\-@\t\r])/, "");
