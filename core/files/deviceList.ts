import { parse } from "csv-parse/sync";
import { type FactKey, type FactValue, readFactValue } from "~/core/device/fact";
import { readImei } from "~/core/device/imei";

/** Largest device list taken in at once, bytes. */
export const MAX_LIST_BYTES = 5_000_000;

/** Columns of a device list, with the header words people use for them. */
export const COLUMNS = {
  tag: ["tag", "label", "id"],
  serial: ["serial", "serial number", "sn"],
  imei: ["imei"],
  donor: ["donor", "from", "source"],
  need: ["need", "for", "group"],
  "model.name": ["name", "model name", "market name"],
  "model.number": ["model", "model number"],
  "android.release": ["android", "android version", "version"],
  "build.number": ["build", "build number"],
  "build.patch": ["patch", "security patch"],
  "firmware.version": ["firmware", "baseband"],
  "system.kind": ["system"],
  "bootloader.locked": ["bootloader locked", "locked"],
  "slot.current": ["slot"],
  "battery.percent": ["battery"],
} as const;
export type Column = keyof typeof COLUMNS;

export interface ListProblem {
  readonly column: string;
  readonly says: string;
}

export interface ListRow {
  /** Line of the file it stands on, counted from 1. */
  readonly line: number;
  readonly tag: string;
  readonly cells: readonly string[];
  readonly problems: readonly ListProblem[];
  /** Worth a look, but no reason to leave the row out. */
  readonly remarks: readonly ListProblem[];
  readonly serial: string | null;
  readonly imei: string | null;
  readonly donor: string;
  readonly need: string | null;
  readonly facts: readonly { readonly key: FactKey; readonly value: FactValue }[];
}

export type DeviceList =
  | { readonly ok: true; readonly header: readonly string[]; readonly rows: readonly ListRow[] }
  | { readonly ok: false; readonly says: string };

/**
 * Turns the bytes of a list into text.
 *
 * UTF-8 with or without mark, UTF-16 with mark. Anything else is refused with what to do, never guessed.
 *
 * @source RFC 4180 for the format; the Unicode byte order marks for the encoding
 */
export function decodeList(
  bytes: Uint8Array,
): { readonly ok: true; readonly text: string } | { readonly ok: false; readonly says: string } {
  if (bytes.length > MAX_LIST_BYTES)
    return {
      ok: false,
      says: `The file has ${(bytes.length / 1e6).toFixed(0)} MB; a list may have 5 MB. Split it, or save only the columns that are needed`,
    };
  const utf16 =
    bytes[0] === 0xff && bytes[1] === 0xfe ? "utf-16le" : bytes[0] === 0xfe && bytes[1] === 0xff ? "utf-16be" : null;
  try {
    const text = new TextDecoder(utf16 ?? "utf-8", { fatal: true }).decode(bytes).replace(/^\uFEFF/, "");
    if (text.includes("\0"))
      return { ok: false, says: "The file holds NUL bytes: it is not a text file. Export the list as CSV, UTF-8" };
    return { ok: true, text };
  } catch {
    return {
      ok: false,
      says: "The file is not UTF-8 (nor UTF-16 with a mark). In the spreadsheet choose “Save as CSV UTF-8” and take that file",
    };
  }
}

/**
 * Reads a device list: comma, semicolon or tab, header names in any order, quoted cells.
 *
 * @param taken tags in use, in lower case
 * @param needs ids and names of needs, in lower case, to their id
 */
export function readDeviceList(
  text: string,
  taken: ReadonlySet<string>,
  needs: ReadonlyMap<string, string>,
): DeviceList {
  const firstLine = text.split(/\r?\n/, 1)[0] ?? "";
  const delimiter = [",", ";", "\t"].sort((a, b) => firstLine.split(b).length - firstLine.split(a).length)[0];
  let records: { record: string[]; info: { lines: number } }[];
  try {
    records = parse(text, {
      delimiter,
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
      info: true,
    }) as unknown as typeof records;
  } catch (error) {
    const { lines, code } = error as { lines?: number; code?: string };
    const what = code?.includes("QUOTE")
      ? "a quote is opened and not closed, or stands in the middle of a cell"
      : (error as Error).message;
    return { ok: false, says: `Line ${lines ?? "?"}: ${what}. Mend that line and try again` };
  }
  const [head, ...body] = records;
  if (!head)
    return {
      ok: false,
      says: "The list is empty. Its first line names the columns, for example: tag,model number,android,serial",
    };
  const header = head.record;
  const columns = header.map(columnOf);
  if (!columns.includes("tag"))
    return {
      ok: false,
      says: `There is no column “tag” in the first line (found: ${header.join(", ")}). Every device needs its tag`,
    };
  const seen = new Map<string, number>();
  // csv-parse counts the lines read so far: the line a record ends on.
  const rows = body.map(({ record, info }) => readRow(record, info.lines, header, columns, taken, needs, seen));
  return rows.length
    ? { ok: true, header, rows }
    : { ok: false, says: "There is a header and no device under it. Paste at least one line" };
}

function columnOf(name: string): Column | null {
  const wanted = name.trim().toLowerCase();
  return (
    (Object.keys(COLUMNS) as Column[]).find(
      (c) => c === wanted || (COLUMNS[c] as readonly string[]).includes(wanted),
    ) ?? null
  );
}

function readRow(
  record: readonly string[],
  line: number,
  header: readonly string[],
  columns: readonly (Column | null)[],
  taken: ReadonlySet<string>,
  needs: ReadonlyMap<string, string>,
  seen: Map<string, number>,
): ListRow {
  const problems: ListProblem[] = [];
  const remarks: ListProblem[] = [];
  const facts: { key: FactKey; value: FactValue }[] = [];
  const row = {
    tag: "",
    serial: null as string | null,
    imei: null as string | null,
    donor: "",
    need: null as string | null,
  };
  if (record.length > header.length)
    problems.push({
      column: "line",
      says: `${record.length} cells, the header has ${header.length}: a cell with a comma needs quotes`,
    });
  columns.forEach((column, i) => {
    const cell = (record[i] ?? "").trim();
    if (column === null || cell === "") return;
    const wrong = (says: string) => problems.push({ column: header[i], says });
    if (column === "tag") {
      row.tag = cell;
      const key = cell.toLowerCase();
      if (!isTag(cell)) wrong("A tag has 1 to 24 letters, digits and dashes");
      else if (taken.has(key)) wrong(`Tag ${cell} is in use already`);
      else if (seen.has(key)) wrong(`Tag ${cell} stands on line ${seen.get(key)} too`);
      seen.set(key, line);
    } else if (column === "serial") row.serial = cell.slice(0, 60);
    else if (column === "donor") row.donor = cell.slice(0, 120);
    else if (column === "imei") {
      row.imei = cell;
      const imei = readImei(cell);
      if (imei.ok) row.imei = imei.imei;
      else remarks.push({ column: header[i], says: imei.says });
    } else if (column === "need") {
      row.need = needs.get(cell.toLowerCase()) ?? null;
      if (row.need === null)
        wrong(`There is no need “${cell}” (there are: ${[...new Set(needs.values())].join(", ")})`);
    } else {
      const read = readFactValue(column, cell.replace(/\s*%$/, "").replace(/^_/, ""));
      if (read.ok) facts.push({ key: column, value: read.value });
      else wrong(read.says);
    }
  });
  if (row.tag === "") problems.push({ column: "tag", says: "The tag is missing" });
  return { line, cells: record, problems, remarks, facts, ...row };
}

/** True for a text that can be a tag: it stands in addresses and file names. */
export function isTag(text: string): boolean {
  return /^[A-Za-z0-9][A-Za-z0-9-]{0,23}$/.test(text);
}
