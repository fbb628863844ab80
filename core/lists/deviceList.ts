import { apiOf } from "~/core/android/releases";
import { FACTS, type FactKey, type FactValue, readFactValue } from "~/core/device/fact";
import { repairImei } from "~/core/device/repairImei";
import { isNoNumber, isUnknown, normalSerial } from "~/core/device/serial";
import { bareRelease, type Column, isFactColumn, type Mapping } from "./columns";

export interface CellProblem {
  /** Place of the cell in its row; -1 for the row as a whole. */
  readonly cell: number;
  readonly says: string;
  /** Of a remark on a number: mended, no identity, or only its check digit is wrong. */
  readonly kind?: "mended" | "no-identity" | "check-digit";
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
  /** Today, ISO: no patch comes from the future. */
  readonly today?: string;
  /** The column that says how many devices a line stands for; -1 where there is none. */
  readonly quantity?: number;
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
  const shapes = mapping.map((column, i) => shapeOf(column, rows, i));
  const seen: Seen = { tag: new Map(), serial: new Map(), imei: new Map() };
  let next = world.numbered?.from ?? 0;
  return rows.map((row) => {
    let tag: string | null = null;
    if (world.numbered) {
      do tag = `${world.numbered.prefix}${String(next++).padStart(3, "0")}`;
      while (world.taken.has(tag.toLowerCase()));
    }
    return judgeRow(row, mapping, world, seen, tag, shapes);
  });
}

/** Lines on which a tag or number stood already. */
type Seen = Record<"tag" | "serial" | "imei", Map<string, number>>;

function judgeRow(
  raw: RawRow,
  mapping: Mapping,
  world: ListWorld,
  seen: Seen,
  numbered: string | null,
  shapes: readonly ColumnShape[],
): DeviceRow {
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
        // "unknown" on two lines does not make them one device.
        row.serial = isNoNumber(text) ? null : normalSerial(text);
        if (row.serial === null) break;
        if (/^\d(?:[.,]\d+)?e\+?\d{1,2}$/i.test(text))
          wrong("The spreadsheet has rounded this number: its last digits are lost. Write it down anew");
        const before = again("serial", row.serial.toLowerCase());
        if (before !== undefined) wrong(`The same serial number stands on line ${before}`);
        break;
      }
      case "imei": {
        const imei = repairImei(text);
        if (imei.is === "nothing") break;
        if (imei.is === "no-identity") {
          remarks.push({ cell, kind: imei.digit ? "check-digit" : "no-identity", says: imei.says });
          break;
        }
        row.imei = imei.imei;
        if (imei.mended) remarks.push({ cell, kind: "mended", says: `Read as ${imei.imei}: ${imei.mended}` });
        const before = again("imei", row.imei);
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
          const plain = plainValue(column, text, shapes?.[cell]);
          const meant = plain === "" ? null : meaningProblem(column, plain, world.today);
          if (plain === "") return;
          const read = readFactValue(column, plain);
          if (meant !== null) wrong(meant);
          else if (read.ok) facts.push({ key: column, value: read.value });
          else wrong(read.says);
        }
    }
  });
  const names = facts.some((f) => f.key === "model.name" || f.key === "model.number" || f.key === "model.codename");
  if (!names && row.serial === null && row.imei === null && (numbered !== null || row.tag === ""))
    problems.push({
      cell: -1,
      says: "Neither a number nor a model stands in this line: nobody could tell which device it is. Write one, or leave the line out",
    });
  const many = mapping.some((c) => c !== null) ? quantityOf(cells, world.quantity ?? -1) : 1;
  if (many > 1)
    problems.push({
      cell: -1,
      says: `This line stands for ${many} devices: each needs a line of its own, with its own numbers. Split it in the spreadsheet, or leave it out`,
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

/** How the cells of a column are written, told from all of them. */
export interface ColumnShape {
  /** Days with slashes: which comes first. */
  readonly first?: "day" | "month";
  /** Levels from 0 to 1. */
  readonly fraction?: boolean;
}

/** Tells from a whole column how its cells are written; what no cell decides stays open. */
function shapeOf(column: Column | null, rows: readonly RawRow[], place: number): ColumnShape {
  if (column !== "build.patch" && column !== "battery.percent") return {};
  const cells = rows.map((r) => (r.cells[place] ?? "").trim()).filter((c) => c !== "");
  if (column === "battery.percent") {
    const numbers = cells.map((c) => Number(c.replace(",", "."))).filter((n) => !Number.isNaN(n));
    return numbers.length > 0 && numbers.every((n) => n >= 0 && n <= 1) && numbers.some((n) => n > 0 && n < 1)
      ? { fraction: true }
      : {};
  }
  const pairs = cells.map((c) => /^(\d{1,2})\/(\d{1,2})\/\d{4}$/.exec(c)).filter((m) => m !== null);
  const day = pairs.some(([, a]) => Number(a) > 12);
  const month = pairs.some(([, , b]) => Number(b) > 12);
  return day === month ? {} : { first: day ? "day" : "month" };
}

const batteryOf = (number: string, percent: boolean, { fraction }: ColumnShape): string =>
  fraction && !percent && /^[\d.]+$/.test(number) ? String(Number((Number(number) * 100).toFixed(2))) : number;

const MONTHS: Readonly<Record<string, number>> = Object.fromEntries(
  [
    "jan january januar jänner janvier enero ene",
    "feb february februar février fevrier fév febrero",
    "mar march märz mrz mars marzo",
    "apr april avril avr abril abr",
    "may mai mayo",
    "jun june juni juin junio",
    "jul july juli juillet juil julio",
    "aug august août aout agosto ago",
    "sep sept september septembre septiembre",
    "oct october okt oktober octobre octubre",
    "nov november novembre noviembre",
    "dec december dez dezember décembre decembre dic diciembre",
  ].flatMap((words, i) => words.split(" ").map((word) => [word, i + 1] as const)),
);

const iso = (year: string, month: number | string, day: string) =>
  [year, String(month).padStart(2, "0"), day.padStart(2, "0")].join("-");

/** A day as people write it, as ISO; what can be read two ways stays as it is. */
function dayOf(text: string, { first }: ColumnShape): string {
  const dotted = /^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})$/.exec(text);
  if (dotted) return iso(dotted[3], dotted[2], dotted[1]);
  const slashed = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/.exec(text);
  if (slashed) {
    const [, a, b, year] = slashed;
    if (first === "day" || (Number(a) > 12 && Number(b) <= 12)) return iso(year, b, a);
    if (first === "month" || (Number(b) > 12 && Number(a) <= 12)) return iso(year, a, b);
    return a === b ? iso(year, a, b) : text;
  }
  const turned = /^(\d{4})[./](\d{1,2})[./](\d{1,2})$/.exec(text);
  if (turned) return iso(turned[1], turned[2], turned[3]);
  const stamped = /^(\d{4}-\d\d-\d\d)[T ][\d:.Z+-]+$/.exec(text);
  if (stamped) return stamped[1];
  const words = /^(?:(\d{1,2})\.?\s+)?(\p{L}+)\.?\s+(?:(\d{1,2}),?\s+)?(\d{4})$/u.exec(text);
  const month = words && MONTHS[words[2].toLowerCase()];
  const day = words && (words[1] ?? words[3]);
  return words && month && day ? iso(words[4], month, day) : text;
}

/** What a value means that has the right form: a real day, not to come; a release there is. Null where all is well. */
function meaningProblem(column: Column & FactKey, value: string, today: string | undefined): string | null {
  if (column === "build.patch") {
    if (/^\d{1,2}\/\d{1,2}\/\d{4}$/.test(value))
      return "Which number is the month? Write the day like 2023-08-05, here or in the whole column";
    if (/^\d{4}-\d{2}$/.test(value)) return "The day is missing: write it like 2023-08-05, as Settings shows it";
    const [y, m, d] = value.split("-").map(Number);
    const date = new Date(Date.UTC(y, m - 1, d));
    if (!/^\d{4}-\d{2}-\d{2}$/.test(value))
      return `“${value.slice(0, 40)}” is no day that can be read. Write it like 2023-08-05`;
    if (date.getUTCMonth() !== m - 1 || date.getUTCDate() !== d) return `There is no ${value} in the calendar`;
    // Security patch levels begin in 2015 (Android security bulletins); the one of next month may be out already.
    if (y < 2015) return `Security patches are dated since 2015; ${value} is older. Read it anew`;
    if (today && date.getTime() > Date.parse(today) + 31 * 86_400_000) return `${value} is still to come. Read it anew`;
  }
  if (column === "android.release" && apiOf(value) === null)
    return `There is no Android ${value.slice(0, 20)}. Write the version like 11 or 8.1`;
  if (column === "battery.percent" && !/^\d{1,3}(\.\d+)?$/.test(value))
    return `“${value.slice(0, 20)}” is no battery level. Write a number from 0 to 100`;
  return null;
}

/** How many devices a line stands for: its column of quantities, or "3 x" before a name. */
function quantityOf(cells: readonly string[], column: number): number {
  const said = column >= 0 ? /^\s*(\d{1,4})\s*(x|pcs|stk|stück)?\s*$/i.exec(cells[column] ?? "") : null;
  if (said) return Number(said[1]);
  for (const cell of cells) {
    const counted = /^\s*(\d{1,3})\s?[x×]\s+\p{L}/iu.exec(cell);
    if (counted) return Number(counted[1]);
  }
  return 1;
}

/** The column of quantities by its heading; -1 where there is none. */
export const quantityColumn = (header: readonly string[]): number =>
  header.findIndex((h) =>
    /^(qty|qty\.|quantity|menge|anzahl|stück|stk\.?|quantité|qté|nombre d'appareils|cantidad|cant\.?|units|count|pcs)$/i.test(
      h.trim(),
    ),
  );

const YES = new Set(["ja", "oui", "sí", "si", "x", "✓", "locked", "gesperrt"]);
const NO = new Set(["nein", "non", "no", "unlocked", "offen", "entsperrt"]);

/**
 * A cell as spreadsheets write it, turned into what a fact looks like: decimal commas, percent signs, "Android 11.0", days
 * with dots, yes and no in other words. A day with slashes is left as it is, and so refused: which number is the month
 * can't be told.
 *
 * @example plainValue("battery.percent", "71,5 %") // "71.5"
 */
export function plainValue(column: Column & FactKey, text: string, shape: ColumnShape = {}): string {
  if (isUnknown(text)) return "";
  const lower = text.toLowerCase();
  switch (column) {
    case "android.release":
      return bareRelease(text);
    case "battery.percent":
      return batteryOf(text.replace(/\s*%$/, "").replace(/^(\d+),(\d{1,4})$/, "$1.$2"), text.includes("%"), shape);
    case "build.patch":
      return dayOf(text, shape);
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
