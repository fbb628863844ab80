import { FACTS, type FactKey, type FactValue, readFactValue } from "~/core/device/fact";
import { readImei } from "~/core/device/imei";
import { bareRelease, type Column, isFactColumn, type Mapping } from "./columns";

export interface CellProblem {
  /** Place of the cell in its row; -1 for the row as a whole. */
  readonly cell: number;
  readonly says: string;
}

/** A device that was here before, found by its serial number or IMEI. */
export interface Earlier {
  readonly device: number;
  readonly tag: string;
  /** It has left the lane: handed over, or gone to parts. Otherwise it is simply here already. */
  readonly left: boolean;
}

/** What a person said of a row: leave it out, or take it in although the device was here before. */
export type Choice = "leave" | "returning" | null;

export interface DeviceRow {
  readonly line: number;
  readonly tag: string;
  readonly serial: string | null;
  readonly imei: string | null;
  readonly donor: string;
  readonly need: string | null;
  readonly facts: readonly { readonly key: FactKey; readonly value: FactValue }[];
  readonly problems: readonly CellProblem[];
  /** Worth a look, but no reason to leave the row out. */
  readonly remarks: readonly CellProblem[];
  readonly earlier: Earlier | null;
  readonly choice: Choice;
}

/** What rows are judged against. */
export interface ListWorld {
  /** Tags in use, in lower case. */
  readonly taken: ReadonlySet<string>;
  /** Ids and names of needs, in lower case, to their id. */
  readonly needs: ReadonlyMap<string, string>;
  /** The device that is or was here with this serial number or IMEI. */
  readonly bySerial: (serial: string) => Earlier | null;
  readonly byImei: (imei: string) => Earlier | null;
  /** Where no column holds tags, rows get the next free ones with this beginning; null where tags come in the list. */
  readonly numbered: { readonly prefix: string; readonly from: number } | null;
}

export interface RawRow {
  readonly line: number;
  readonly cells: readonly string[];
  readonly choice: Choice;
}

/**
 * Judges the rows of a list: every cell checked, each problem at its cell. A row without problems can be taken in.
 *
 * @param mapping what each column holds, in the order of the header
 */
export function judgeRows(rows: readonly RawRow[], mapping: Mapping, world: ListWorld): DeviceRow[] {
  const seen: Seen = { tag: new Map(), serial: new Map(), imei: new Map() };
  let next = world.numbered?.from ?? 0;
  return rows.map((row) => {
    let tag: string | null = null;
    if (world.numbered) {
      do tag = `${world.numbered.prefix}${String(next++).padStart(3, "0")}`;
      while (world.taken.has(tag.toLowerCase()));
    }
    return judgeRow(row, mapping, world, seen, tag);
  });
}

/** Lines on which a tag or number stood already. */
type Seen = Record<"tag" | "serial" | "imei", Map<string, number>>;

function judgeRow(raw: RawRow, mapping: Mapping, world: ListWorld, seen: Seen, numbered: string | null): DeviceRow {
  const { line, cells, choice } = raw;
  const problems: CellProblem[] = [];
  const remarks: CellProblem[] = [];
  const facts: { key: FactKey; value: FactValue }[] = [];
  const row = {
    tag: numbered ?? "",
    serial: null as string | null,
    imei: null as string | null,
    donor: "",
    need: null as string | null,
  };
  if (cells.length > mapping.length && cells.slice(mapping.length).some((c) => c.trim() !== ""))
    problems.push({
      cell: -1,
      says: `${cells.length} cells, the header has ${mapping.length}: a cell that holds the separator needs quotes`,
    });
  const again = (what: keyof Seen, key: string): number | undefined => {
    const before = seen[what].get(key);
    if (before === undefined) seen[what].set(key, line);
    return before;
  };
  mapping.forEach((column, cell) => {
    const text = (cells[cell] ?? "").trim();
    if (column === null || text === "") return;
    const wrong = (says: string) => problems.push({ cell, says });
    switch (column) {
      case "tag": {
        row.tag = text;
        const before = again("tag", text.toLowerCase());
        if (!isTag(text)) wrong("A tag has 1 to 24 letters, digits and dashes");
        else if (world.taken.has(text.toLowerCase())) wrong(`Tag ${text} is in use already`);
        else if (before !== undefined) wrong(`Tag ${text} stands on line ${before} too`);
        break;
      }
      case "serial": {
        row.serial = text.slice(0, 60);
        const before = again("serial", row.serial.toLowerCase());
        if (before !== undefined) wrong(`The same serial number stands on line ${before}`);
        break;
      }
      case "imei": {
        const imei = readImei(text);
        row.imei = imei.ok ? imei.imei : text.slice(0, 60);
        const before = again("imei", row.imei);
        if (!imei.ok) remarks.push({ cell, says: imei.says });
        if (before !== undefined) wrong(`The same IMEI stands on line ${before}`);
        break;
      }
      case "donor":
        row.donor = text.slice(0, 120);
        break;
      case "need":
        row.need = world.needs.get(text.toLowerCase()) ?? null;
        if (row.need === null)
          wrong(`There is no need “${text}” (there are: ${[...new Set(world.needs.values())].join(", ")})`);
        break;
      default:
        if (isFactColumn(column)) {
          const read = readFactValue(column, plainValue(column, text));
          if (read.ok) facts.push({ key: column, value: read.value });
          else wrong(read.says);
        }
    }
  });
  if (row.tag === "") problems.push({ cell: mapping.indexOf("tag"), says: "The tag is missing" });
  const sameImei = row.imei ? world.byImei(row.imei) : null;
  const earlier = sameImei ?? (row.serial ? world.bySerial(row.serial) : null);
  if (earlier && !(earlier.left && choice === "returning"))
    problems.push({
      cell: mapping.indexOf(sameImei ? "imei" : "serial"),
      says: earlier.left
        ? `This device was here before, as ${earlier.tag}: say whether it has come back`
        : `This device is here already, as ${earlier.tag}`,
    });
  return { line, problems, remarks, facts, earlier, choice, ...row };
}

const YES = new Set(["ja", "oui", "x", "✓", "locked", "gesperrt"]);
const NO = new Set(["nein", "non", "-", "unlocked", "offen"]);

/**
 * A cell as spreadsheets write it, turned into what a fact looks like: decimal commas, percent signs, "Android 11.0", days
 * with dots, yes and no in other words. A day with slashes is left as it is, and so refused: which number is the month
 * can't be told.
 *
 * @example plainValue("battery.percent", "71,5 %") // "71.5"
 */
export function plainValue(column: Column & FactKey, text: string): string {
  const lower = text.toLowerCase();
  switch (column) {
    case "android.release":
      return bareRelease(text);
    case "battery.percent":
      return text.replace(/\s*%$/, "").replace(/^(\d+),(\d{1,2})$/, "$1.$2");
    case "build.patch":
      return text.replace(/^(\d{1,2})\.(\d{1,2})\.(\d{4})$/, (_, d: string, m: string, y: string) =>
        [y, m.padStart(2, "0"), d.padStart(2, "0")].join("-"),
      );
    case "bootloader.locked":
      return YES.has(lower) ? "yes" : NO.has(lower) ? "no" : text;
    case "slot.current":
      return lower.replace(/^_/, "");
    default:
      return text;
  }
}

/** True for a text that can be a tag: it stands in addresses and file names. */
export function isTag(text: string): boolean {
  return /^[A-Za-z0-9][A-Za-z0-9-]{0,23}$/.test(text);
}

/** The name of a column in words. */
export function columnName(column: Column): string {
  if (isFactColumn(column)) return FACTS[column].says;
  return { tag: "Tag", serial: "Serial number", imei: "IMEI", donor: "Donor", need: "Need" }[column];
}
