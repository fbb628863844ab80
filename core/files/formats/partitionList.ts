import type { DeviceRows, Finding, ListRow } from "../report";
import { TELLS_NOTHING } from "../report";

const SECTOR = 512;

export interface PartitionList extends DeviceRows {
  /**
   * What its numbers count: bytes by the kernel's rule, sectors of 512 bytes in a loader board's parameter file. Unknown where
   * neither the list nor a person says so: its rows were read as bytes then.
   */
  readonly unit: "bytes" | "sectors" | "unknown";
  /** Further flashes, behind a semicolon. */
  readonly more: readonly DeviceRows[];
  readonly cleaned: string;
}

export const holdsPartitionList = (text: string): boolean => /mtdparts=[^\s:]+:/.test(text);

/** What may stand behind the last bracket: flags, and rows without a name. */
const BEHIND_BRACKET = /^(?:ro|lk|slc)*(?:[ \t]*[,;][ \t]*[\w.@:-]+)*/;

/**
 * The text of a parameter file without the binary head and tail it was dumped with: from the word FIRMWARE to the
 * last row of the partition list.
 *
 * Common practice, no source.
 */
export function cleanParameter(text: string): string {
  const list = text.indexOf("mtdparts=");
  if (list < 0) return text;
  const begin = text.lastIndexOf("FIRMWARE", list);
  // A list goes on in the next line where this one ends with a comma.
  const line = /^(?:[^\0\r\n]*,[ \t]*[\r\n]+)*[^\0\r\n]*/.exec(text.slice(list))?.[0] ?? "";
  const bracket = line.lastIndexOf(")");
  const end = bracket < 0 ? line.length : bracket + 1 + (BEHIND_BRACKET.exec(line.slice(bracket + 1))?.[0].length ?? 0);
  // Without the word, the line that holds the list is kept.
  const from = begin >= 0 ? begin : Math.max(0, text.slice(0, list).search(/[^\r\n\0]*$/));
  return text.slice(from, list + end).replaceAll(/[^\t\r\n\x20-\x7e]/g, "");
}

const UNITS: Record<string, number> = { "": 1, k: 1024, m: 1024 ** 2, g: 1024 ** 3 };

function amount(text: string): number | null {
  const found = /^(0x[0-9a-f]+|\d+)([kmg]?)$/i.exec(text);
  if (!found) return null;
  const value = Number(found[1]) * UNITS[found[2].toLowerCase()];
  return Number.isSafeInteger(value) ? value : null;
}

/**
 * Reads a partition list `mtdparts=<device>:<size>[@<offset>](<name>)[ro][lk],…[;<device>:…]`.
 *
 * @param counts what somebody says its numbers count; a FIRMWARE line says it better
 * @returns null when the text holds no such list
 * @source Linux kernel, `drivers/mtd/parsers/cmdlinepart.c`, comment at its head: sizes are bytes with k, m, g; `-` takes
 *         the rest; a row without an offset follows the one before. In a loader board's parameter file (it has a FIRMWARE
 *         line) the numbers count sectors of 512 bytes: common practice, no source.
 * @example readPartitionList("mtdparts=nand0:1m(boot),-(rest)")?.rows[1].from // 1048576
 */
export function readPartitionList(text: string, counts?: "bytes" | "sectors"): PartitionList | null {
  const cleaned = cleanParameter(text);
  const found = /mtdparts=([^\s:;]{1,100}):/.exec(cleaned);
  if (!found) return null;
  const written = devicesOf(found[1], cleaned.slice(found.index + found[0].length));
  if (written[0].parts.length === 0) return null;
  const said = /FIRMWARE/.test(cleaned) ? "sectors" : counts;
  const read = written.map(({ device, parts }) => rowsOf(device, parts, said === "sectors" ? SECTOR : 1));
  const unit = said ?? (written.some(({ parts }, i) => mayBeSectors(parts, read[i].end)) ? "unknown" : "bytes");
  const [{ device, rows, problems }, ...more] = read;
  if (NEXT_DEVICE.test(written[written.length - 1].rest))
    problems.push(`It names more than ${MOST_DEVICES} flashes: those behind them are not read`);
  return { device, unit, rows, problems, more: more.map(({ end: _, ...each }) => each), cleaned };
}

/** More flashes than a board has. */
const MOST_DEVICES = 8;
const NEXT_DEVICE = /^;\s*([^\s:;]{1,100}):/;

/** The devices of a list, each with its rows as they are written. */
function devicesOf(first: string, text: string) {
  const devices = [{ device: first, ...partsOf(text) }];
  for (let rest = devices[0].rest; devices.length < MOST_DEVICES; rest = devices[devices.length - 1].rest) {
    const next = NEXT_DEVICE.exec(rest);
    if (!next) break;
    devices.push({ device: next[1], ...partsOf(rest.slice(next[0].length)) });
  }
  return devices;
}

/** The rows of one device, with what is wrong with them; `end` is where the last one ends, bytes. */
function rowsOf(device: string, parts: readonly string[], scale: number): DeviceRows & { readonly end: number } {
  const rows: ListRow[] = [];
  const problems: string[] = [];
  let at = 0;
  for (const [i, part] of parts.slice(0, 200).entries()) {
    const row = /^(-|[0-9a-fx]+[kmg]?)(?:@([0-9a-fx]+[kmg]?))?(?:\(([^)]{0,100})\))?((?:ro|lk|slc)*)$/i.exec(part);
    const size = row && (row[1] === "-" ? null : amount(row[1]));
    const offset = row?.[2] ? amount(row[2]) : null;
    if (!row || (row[1] !== "-" && size === null) || (row[2] && offset === null)) {
      problems.push(`Row ${i + 1} can't be read: ${part.slice(0, 80)}`);
      continue;
    }
    const from = offset === null ? at : offset * scale;
    const bytes = size === null ? null : size * scale;
    // A system partition that grows writes its name as "userdata:grow".
    rows.push({ name: (row[3] ?? `part${i}`).replace(/:.*$/, ""), from, bytes, flags: row[4] });
    at = from + (bytes ?? 0);
  }
  if (parts.length === 0) problems.push(`No row of ${device} can be read`);
  return { device, rows, problems: [...problems, ...layoutProblems(rows)], end: at };
}

/** The rows of a list as they are written, blanks and line breaks between them taken out; and what stands behind the list. */
function partsOf(text: string): { readonly parts: string[]; readonly rest: string } {
  const parts: string[] = [];
  let rest = text.trimStart();
  while (parts.length < 500) {
    // A row ends with a comma outside its brackets, a semicolon, or a blank that no "@" or bracket follows.
    const row = /^(?:[^\s,;(@]+|[ \t]*@[ \t]*|[ \t]*\([^)\r\n]*\))+/.exec(rest);
    if (!row) break;
    parts.push(row[0].replaceAll(/\s+(?=[@(])|(?<=@)\s+/g, ""));
    rest = rest.slice(row[0].length);
    const comma = /^\s*,\s*/.exec(rest);
    if (!comma) break;
    rest = rest.slice(comma[0].length);
  }
  return { parts, rest: rest.trimStart() };
}

/** Largest flash of a board whose numbers could be sectors, bytes: smaller ones hold no system. */
const SMALL = 256 * 1_048_576;
/** Bare numbers that make a flash too small for a system, read as bytes, are most likely sectors. */
const mayBeSectors = (parts: readonly string[], end: number) =>
  parts.every((p) => !/^(?:0x[0-9a-f]+|\d+)[kmg]/i.test(p)) && end > 0 && end < SMALL;

const hexText = (n: number) => `0x${n.toString(16)}`;

/** Overlaps and gaps between rows, and what can't be. */
function layoutProblems(rows: readonly ListRow[]): string[] {
  const problems: string[] = [];
  const sorted = [...rows].sort((a, b) => a.from - b.from);
  sorted.forEach((row, i) => {
    const next = sorted[i + 1];
    if (row.bytes === 0) problems.push(`${row.name} has no room`);
    if (!next) return;
    if (row.bytes === null) {
      problems.push(`${row.name} takes the rest, but ${next.name} comes after it`);
      return;
    }
    const end = row.from + row.bytes;
    if (end > next.from)
      problems.push(`${row.name} and ${next.name} overlap by ${(end - next.from).toLocaleString("en")} bytes`);
    if (end < next.from)
      problems.push(
        `${(next.from - end).toLocaleString("en")} bytes between ${row.name} and ${next.name} belong to nobody (from ${hexText(end)})`,
      );
  });
  const names = rows.map((r) => r.name);
  for (const name of new Set(names.filter((n, i) => names.indexOf(n) !== i))) problems.push(`${name} stands twice`);
  return problems;
}

/** One row of the loader client's table: what is written to where, and whether it is ticked. */
export interface RestoreRow {
  readonly name: string;
  /** Null for loader and parameter: they stand before the partitions, at places of their own. */
  readonly from: number | null;
  readonly bytes: number | null;
  readonly file: string | null;
  readonly ticked: boolean;
  readonly says: string;
}

/** Rows that are never ticked: the loader could leave the board dead, user data is somebody's. */
const UNTICKED = new Set(["loader", "userdata"]);

const stem = (name: string) =>
  name
    .replace(/^.*[\\/]/, "")
    .replace(/\.[^.]*$/, "")
    .toLowerCase()
    .replaceAll(/[^a-z0-9]/g, "");

/**
 * Rows for a restore: loader and parameter first, then the partitions in their order, each with the dumped file of its name.
 *
 * Common practice, no source: 13 partitions and user data make 16 rows with loader and parameter, of which 14 are ticked.
 *
 * @param files names of the files of the dump
 * @returns the rows, and the files that no row takes
 * @example restoreRows({ rows: [{ name: "boot", from: 0, bytes: 10, flags: "" }] }, [{ name: "boot.img", bytes: 9 }]).rows[2].ticked // true
 */
export function restoreRows(
  list: Pick<PartitionList, "rows">,
  files: readonly { readonly name: string; readonly bytes: number }[],
): { readonly rows: readonly RestoreRow[]; readonly left: readonly string[] } {
  const free = new Map(files.map((f) => [stem(f.name), f]));
  const take = (row: string) => {
    const key = row.toLowerCase().replaceAll(/[^a-z0-9]/g, "");
    const found = free.get(key);
    if (found) free.delete(key);
    return found ?? null;
  };
  const rows = [
    { name: "loader", from: null, bytes: null },
    { name: "parameter", from: null, bytes: null },
    ...list.rows.filter((r) => r.name !== "loader" && r.name !== "parameter"),
  ].map(({ name, from, bytes }) => {
    const file = take(name);
    const large = file !== null && bytes !== null && file.bytes > bytes;
    return {
      name,
      from,
      bytes,
      file: file?.name ?? null,
      ticked: file !== null && !large && !UNTICKED.has(name),
      says: UNTICKED.has(name)
        ? "never ticked"
        : file === null
          ? "no file of this name"
          : large
            ? `${file.name} is ${(file.bytes - (bytes as number)).toLocaleString("en")} bytes too large`
            : "",
    };
  });
  return { rows, left: [...free.values()].map((f) => f.name) };
}

/** Tells a partition list. */
export function tellPartitionList(text: string): Finding | null {
  const list = readPartitionList(text);
  if (!list) return null;
  const devices = [list, ...list.more];
  const minds = devices.reduce((sum, { problems }) => sum + problems.length, 0);
  const short = ({ device, rows, problems }: DeviceRows): DeviceRows => ({
    device,
    rows,
    problems: problems.map((p) => p.slice(0, 400)),
  });
  return {
    says: `Partition list of a loader board: ${devices.map(({ device, rows }) => `${rows.length} ${rows.length === 1 ? "row" : "rows"} on ${device}`).join(", ")}${minds ? `, ${minds} of which to mind` : ""}.`,
    whole: { is: "unknown", says: "A text carries no digest" },
    expanded: null,
    told: TELLS_NOTHING,
    content: {
      kind: "partition-list",
      ...short(list),
      unit: list.unit,
      more: list.more.map(short),
      cleaned: list.cleaned.slice(0, 20_000),
    },
  };
}
