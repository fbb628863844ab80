import { apiOf } from "~/core/android/releases";
import type { FactKey } from "~/core/device/fact";
import { repairImei } from "~/core/device/repairImei";
import { COLUMNS } from "./columnWords";
import { releaseCell } from "./releaseCell";

export type Column = keyof typeof COLUMNS;
export const COLUMN_KEYS = Object.keys(COLUMNS) as Column[];

/** Columns that are facts of a device; the others belong to its own row. */
export const isFactColumn = (column: Column): column is Column & FactKey => column.includes(".");

/** Whether a column holds what no two devices have in common. */
export const isOwnNumber = (column: Column | null | undefined): boolean =>
  column === "tag" || column === "serial" || column === "imei";

/** For each column of a list what it holds; null is left out. */
export type Mapping = readonly (Column | null)[];

/** A heading as it is compared: lower case, no accents, marks as blanks. */
const bare = (name: string) =>
  name
    .toLowerCase()
    .normalize("NFD")
    .replace(/\p{M}+/gu, "")
    .replace(/[_.:;()[\]\-–'’"*]+/g, " ")
    .replace(/\s*%/g, " %")
    .replace(/[º°]/g, "°")
    .replace(/\bn °/g, "n°")
    .replace(/\s+/g, " ")
    .trim();

const BY_NAME = new Map<string, Column>(
  COLUMN_KEYS.flatMap((column) => [
    [bare(column), column] as const,
    ...COLUMNS[column].map((name) => [bare(name), column] as const),
  ]),
);

/**
 * What a heading names by itself; null where it is no heading that is known.
 *
 * @example columnOfHeading("Android ver.") // "android.release"
 */
export const columnOfHeading = (name: string): Column | null => BY_NAME.get(bare(name)) ?? null;

/** The headings of columns as they are kept; one that is empty is named by its place. */
export const nameColumns = (cells: readonly string[], width = cells.length): string[] =>
  Array.from({ length: width }, (_, i) => (cells[i] ?? "").trim().slice(0, 80) || `column ${i + 1}`);

/** Whether a column is named by its place only. */
export const isUnnamed = (name: string): boolean => /^column \d+$/.test(name);

/**
 * Headings that stand for their column only where no other does: "Handy-Nr" beside "Modell" is somebody's own numbering, "Type"
 * what kind of thing it is, and "Device name" beside "Model name" what somebody calls it.
 */
const WEAK: ReadonlySet<string> = new Set(
  [
    "handy nr, typ, type, name, device, device name, phone, handset, handy, gerat, geratename, bezeichnung",
    "appareil, nom de l appareil, nom, dispositivo, nombre",
  ].flatMap((names) => names.split(", ")),
);

/** Headings under which some people write a model's number and others its name. */
const NUMBER_OR_NAME: ReadonlySet<string> = new Set(["model", "mod", "modell", "modele", "modelo"]);

/** A name has a word in it that no number has: "Vista 20", "Lumen", and not "VK-L8" or "AB T510". */
const isModelName = (cell: string): boolean =>
  cell.split(/\s+/).some((word) => /^\p{L}*\p{Ll}{2}\p{L}*$/u.test(word) || /^\p{Lu}{4,}$/u.test(word));

/** What a heading stands for that may mean a model's number or its name: what no other column is, else what most cells are. */
function numberOrName(i: number, header: readonly string[], cells: readonly string[]): Column | null {
  const isElsewhere = (column: Column) =>
    header.some(
      (name, j) =>
        j !== i && columnOfHeading(name) === column && !NUMBER_OR_NAME.has(bare(name)) && !WEAK.has(bare(name)),
    );
  const [number, name] = [isElsewhere("model.number"), isElsewhere("model.name")];
  if (number || name) return number && name ? null : number ? "model.name" : "model.number";
  return cells.filter(isModelName).length > cells.length / 2 ? "model.name" : "model.number";
}

/** Cells looked at when a column is guessed by what it holds. */
const SAMPLE = 40;
/** Share of the sample that must agree. */
const AGREE = 0.8;

/** What a column holds, told from its cells; only where the form is beyond doubt. */
const BY_CONTENT: readonly (readonly [Column, (cell: string) => boolean])[] = [
  ["imei", (c) => repairImei(c).is === "imei"],
  ["build.patch", (c) => /^20[12]\d-\d\d-\d\d$/.test(c) || /^\d\d\.\d\d\.20[12]\d$/.test(c)],
  ["android.release", (c) => /^(android\s*)?\d{1,2}(\.\d){0,2}$/i.test(c) && apiOf(releaseCell(c)) !== null],
  ["battery.percent", (c) => /^\d{1,3}([.,]\d+)?\s*%$/.test(c)],
];

export interface Guess {
  readonly column: Column | null;
  /** What the guess rests on; what rests on the cells only has to be confirmed by a person. */
  readonly by: "memory" | "name" | "content" | "nothing";
}

/**
 * Guesses what each column holds: as it was last time for this source, by the header's name, or by the form of the cells.
 * No two columns hold the same thing: the first keeps it.
 *
 * @param remembered header names in lower case to what they held; from the same source, last time
 * @example guessColumns(["Serial"], [], new Map())[0].column // "serial"
 */
export function guessColumns(
  header: readonly string[],
  rows: readonly { readonly cells: readonly string[] }[],
  remembered: ReadonlyMap<string, Column | null>,
): Guess[] {
  const cellsOf = (i: number) =>
    rows
      .map((r) => (r.cells[i] ?? "").trim())
      .filter((c) => c !== "")
      .slice(0, SAMPLE);
  const guesses: Guess[] = header.map((name, i) => {
    const known = remembered.get(name.toLowerCase());
    if (known !== undefined) return { column: known, by: "memory" };
    const named = NUMBER_OR_NAME.has(bare(name)) ? numberOrName(i, header, cellsOf(i)) : columnOfHeading(name);
    return named ? { column: named, by: "name" } : { column: null, by: "nothing" };
  });
  const isWeak = (i: number) => guesses[i].by === "name" && WEAK.has(bare(header[i]));
  const better = new Set(guesses.filter((g, i) => g.column !== null && !isWeak(i)).map((g) => g.column));
  const given = new Set<Column>();
  const unique = guesses.map((guess, i): Guess => {
    const givesWay = better.has(guess.column) || (guess.column === "model.number" && better.has("model.name"));
    if (isWeak(i) && givesWay) return { column: null, by: "nothing" };
    if (guess.column === null || !given.has(guess.column)) {
      if (guess.column) given.add(guess.column);
      return guess;
    }
    return { column: null, by: "nothing" };
  });
  return unique.map((guess, i) => {
    // Where the heading says something, it may say something else: cells are a hint only where there is no heading.
    if (guess.by !== "nothing" || !isUnnamed(header[i])) return guess;
    const cells = cellsOf(i);
    const found = BY_CONTENT.find(
      ([column, fits]) => !given.has(column) && cells.length > 0 && cells.filter(fits).length >= cells.length * AGREE,
    );
    if (!found) return guess;
    given.add(found[0]);
    return { column: found[0], by: "content" };
  });
}
