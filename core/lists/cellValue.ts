import { isRelease } from "~/core/android/releases";
import type { FactKey } from "~/core/device/fact";
import { isUnknown } from "~/core/device/serial";
import type { Column } from "./columns";
import { releaseCell } from "./releaseCell";

/** Of days with slashes: which number comes first. */
export type DayOrder = "day" | "month";

/** How the cells of a column are written, told from all of them. */
export interface ColumnShape {
  readonly first?: DayOrder;
  /** Some of its days can be read two ways, and no other cell decides it: somebody has to say. */
  readonly asks?: true;
  /** Levels from 0 to 1. */
  readonly fraction?: boolean;
}

/**
 * Tells from a whole column how its cells are written; what no cell decides is asked once for all of them.
 *
 * @param said what somebody said of its days
 * @example shapeOf("donor", [], 0) // {}
 */
export function shapeOf(
  column: Column | null,
  rows: readonly { readonly cells: readonly string[] }[],
  place: number,
  said?: DayOrder,
): ColumnShape {
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
  if (day !== month) return { first: day ? "day" : "month" };
  const asks = pairs.some(([, a, b]) => a !== b && Number(a) <= 12 && Number(b) <= 12);
  return { ...(said && { first: said }), ...(asks && { asks }) };
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

/**
 * A day that a spreadsheet gave away as its number: days since the end of 1899. Null where it is none that a patch can have.
 *
 * @source ECMA-376 Part 1, 18.17.4.1 (the 1900 date system); Android security bulletins begin in 2015
 */
function dayOfNumber(days: number): string | null {
  const date = new Date(Date.UTC(1899, 11, 30 + days));
  return date.getUTCFullYear() >= 2015 && date.getUTCFullYear() < 2050 ? date.toISOString().slice(0, 10) : null;
}

/** A day as people write it, as ISO; what can be read two ways stays as it is. */
function dayOf(text: string, { first }: ColumnShape): string {
  const dotted = /^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})$/.exec(text);
  if (dotted) return iso(dotted[3], dotted[2], dotted[1]);
  const slashed = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/.exec(text);
  if (slashed) {
    const [, a, b, year] = slashed;
    if (Number(a) > 12 && Number(b) <= 12) return iso(year, b, a);
    if (Number(b) > 12 && Number(a) <= 12) return iso(year, a, b);
    if (first === "day") return iso(year, b, a);
    if (first === "month") return iso(year, a, b);
    return a === b ? iso(year, a, b) : text;
  }
  if (/^\d{5}$/.test(text)) return dayOfNumber(Number(text)) ?? text;
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
export function meaningProblem(column: Column & FactKey, value: string, today: string | undefined): string | null {
  if (column === "build.patch") {
    if (/^\d{1,2}\/\d{1,2}\/\d{4}$/.test(value))
      return "Which number is the month? Say it for the whole column, above; or write the day like 2023-08-05";
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
  if (column === "android.release" && !isRelease(value))
    return `There is no Android ${value.slice(0, 20)}. Write the version like 11 or 8.1`;
  if (column === "battery.percent" && !/^\d{1,3}(\.\d+)?$/.test(value))
    return `“${value.slice(0, 20)}” is no battery level. Write a number from 0 to 100`;
  return null;
}

const YES = new Set(["ja", "oui", "sí", "si", "x", "✓", "locked", "gesperrt"]);
const NO = new Set(["nein", "non", "no", "unlocked", "offen", "entsperrt"]);

/**
 * A cell as spreadsheets write it, turned into what a fact looks like: decimal commas, percent signs, "Android 11.0", days
 * in local forms, yes and no in other words. A day whose month can't be told stays as it is, and so is refused.
 *
 * @example plainValue("battery.percent", "71,5 %") // "71.5"
 */
export function plainValue(column: Column & FactKey, text: string, shape: ColumnShape = {}): string {
  if (isUnknown(text)) return "";
  const lower = text.toLowerCase();
  switch (column) {
    case "android.release":
      return releaseCell(text);
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
