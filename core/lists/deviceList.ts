import { FACTS, type FactKey, type FactValue, readFactValue } from "~/core/device/fact";
import { repairImei } from "~/core/device/repairImei";
import { isNoNumber, normalSerial } from "~/core/device/serial";
import { type ColumnShape, type DayOrder, meaningProblem, plainValue, shapeOf } from "./cellValue";
import { type Column, isFactColumn, isOwnNumber, type Mapping } from "./columns";

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
  /** How many devices it stands for. */
  readonly many: number;
}

/** What rows are judged against. */
export interface ListWorld {
  /** Tags in use, in lower case. */
  readonly taken: ReadonlySet<string>;
  /** Ids and names of needs, in lower case, to their id. */
  readonly needs: ReadonlyMap<string, string>;
  /** The need of rows that name none; null where nobody was chosen for them. */
  readonly need?: string | null;
  /** The device that is or was here with this serial number or IMEI. */
  readonly bySerial: (serial: string) => Earlier | null;
  readonly byImei: (imei: string) => Earlier | null;
  /** Where no column holds tags, rows get the next free ones with this beginning; null where tags come in the list. */
  readonly numbered: { readonly prefix: string; readonly from: number } | null;
  /** Today, ISO: no patch comes from the future. */
  readonly today?: string;
  /** The column that says how many devices a line stands for; -1 where there is none. */
  readonly quantity?: number;
  /** By place of a column, what somebody said of its days. */
  readonly days?: Readonly<Record<number, DayOrder>>;
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
 * @example judgeRows([], [], { … }) // []
 */
export function judgeRows(rows: readonly RawRow[], mapping: Mapping, world: ListWorld): DeviceRow[] {
  const shapes = mapping.map((column, i) => shapeOf(column, rows, i, world.days?.[i]));
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
    need: world.need ?? null,
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
          const plain = plainValue(column, text, shapes[cell]);
          if (plain === "") return;
          const meant = meaningProblem(column, plain, world.today);
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
  const many = mapping.some((c) => c !== null) ? (countIn(cells, mapping, world.quantity ?? -1)?.many ?? 1) : 1;
  if (many > 1)
    problems.push({
      cell: -1,
      says:
        many <= MAX_SPLIT
          ? `This line stands for ${many} devices: each needs a line of its own, with its own numbers. Make ${many} lines of it, or leave it out`
          : `This line stands for ${many} devices: more than a line can be parted into. Look at it, or leave it out`,
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
  return { line, problems, remarks, facts, earlier, choice, many, ...row };
}

const QUANTITY = /^\s*(\d{1,4})\s*(x|pcs|stk|stück)?\s*$/i;
const COUNTED = /^\s*(\d{1,3})\s?[x×]\s+(?=\p{L})/iu;
/** Behind a model's name only: in a remark it counts something else. */
const COUNTED_BEHIND = /\s*\((\d{1,3})\s?(?:x|×|pcs\.?|pieces|stk\.?|stück|pièces|unités|uds?\.?|unidades)\)\s*$/iu;
/** A line that stands for more devices than this is a typing error more often than a box. */
export const MAX_SPLIT = 100;

/**
 * Where a line says that it stands for several devices, how many, and that cell without its number: in the column of quantities,
 * or as "3 x" before a name, or as "(3 pcs)" behind a model's. Null where it says nothing.
 */
function countIn(cells: readonly string[], mapping: Mapping, column: number) {
  const said = column >= 0 ? QUANTITY.exec(cells[column] ?? "") : null;
  if (said) return { at: column, many: Number(said[1]), rest: "1" };
  for (const [at, cell] of cells.entries()) {
    const isModel = mapping[at] === "model.name" || mapping[at] === "model.number";
    const counted = COUNTED.exec(cell) ?? (isModel ? COUNTED_BEHIND.exec(cell) : null);
    if (counted) return { at, many: Number(counted[1]), rest: cell.replace(COUNTED, "").replace(COUNTED_BEHIND, "") };
  }
  return null;
}

/**
 * Makes a line of its own for each device that one stands for. The first keeps its numbers; nobody knows those of the others.
 *
 * @param column the column of quantities; -1 where there is none
 * @returns the cells of each line; one line, as it was, where it stands for one device or for too many
 * @example splitLine(["Lumen", "3"], ["model.name", "count"], 1).length // 3
 */
export function splitLine(cells: readonly string[], mapping: Mapping, column: number): string[][] {
  const counted = countIn(cells, mapping, column);
  if (!counted || counted.many < 2 || counted.many > MAX_SPLIT) return [[...cells]];
  const first = cells.map((cell, i) => (i === counted.at ? counted.rest : cell));
  const other = first.map((cell, i) => (isOwnNumber(mapping[i]) ? "" : cell));
  return [first, ...Array.from({ length: counted.many - 1 }, () => [...other])];
}

/**
 * The column of quantities by its heading; -1 where there is none.
 *
 * @example quantityColumn(["Model", "Qty"]) // 1
 */
export const quantityColumn = (header: readonly string[]): number =>
  header.findIndex((h) =>
    /^(qty|qty\.|quantity|menge|anzahl|stück|stk\.?|quantité|qté|nombre d'appareils|cantidad|cant\.?|units|count|pcs)$/i.test(
      h.trim(),
    ),
  );

/**
 * True for a text that can be a tag: it stands in addresses and file names.
 *
 * @example isTag("TH-001") // true
 */
export function isTag(text: string): boolean {
  return /^[A-Za-z0-9][A-Za-z0-9-]{0,23}$/.test(text);
}

/**
 * The name of a column in words.
 *
 * @example columnName("serial") // "Serial number"
 */
export function columnName(column: Column): string {
  if (isFactColumn(column)) return FACTS[column].says;
  return { tag: "Tag", serial: "Serial number", imei: "IMEI", donor: "Donor", need: "Need" }[column];
}
