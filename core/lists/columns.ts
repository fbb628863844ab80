import { apiOf } from "~/core/android/releases";
import type { FactKey } from "~/core/device/fact";
import { readImei } from "~/core/device/imei";

/** What a column of a device list can hold, with the header words people use for it. */
export const COLUMNS = {
  tag: ["tag", "label", "id", "inventory", "inventory number", "asset tag", "asset", "inventar", "inventarnummer"],
  serial: ["serial", "serial number", "serial no", "sn", "s/n", "seriennummer"],
  imei: ["imei", "imei 1", "imei1"],
  donor: ["donor", "from", "source", "owner", "given by", "spender", "spenderin"],
  need: ["need", "for", "group", "waiting group"],
  "model.name": ["name", "model name", "market name", "device", "gerät", "device name"],
  "model.number": ["model", "model number", "model no", "modell", "modellnummer"],
  "model.codename": ["code name", "codename", "product"],
  "android.release": ["android", "android version", "version", "os", "os version"],
  "build.number": ["build", "build number"],
  "build.patch": ["patch", "security patch", "patch level", "patch date"],
  "firmware.version": ["firmware", "baseband", "firmware version"],
  "system.kind": ["system", "running system"],
  "bootloader.locked": ["bootloader locked", "locked", "bootloader"],
  "slot.current": ["slot", "current slot"],
  "battery.percent": ["battery", "battery %", "charge", "akku", "battery percent"],
} as const satisfies Record<string, readonly string[]>;

export type Column = keyof typeof COLUMNS;
export const COLUMN_KEYS = Object.keys(COLUMNS) as Column[];

/** Columns that are facts of a device; the others belong to its own row. */
export const isFactColumn = (column: Column): column is Column & FactKey => column.includes(".");

/** For each column of a list what it holds; null is left out. */
export type Mapping = readonly (Column | null)[];

const bare = (name: string) =>
  name
    .toLowerCase()
    .replace(/[_.:()[\]-]+/g, " ")
    .replace(/\s+/g, " ")
    .trim();

const BY_NAME = new Map<string, Column>(
  COLUMN_KEYS.flatMap((column) => [
    [bare(column), column] as const,
    ...COLUMNS[column].map((name) => [bare(name), column] as const),
  ]),
);

/** Cells looked at when a column is guessed by what it holds. */
const SAMPLE = 40;
/** Share of the sample that must agree. */
const AGREE = 0.8;

/** What a column holds, told from its cells; only where the form is beyond doubt. */
const BY_CONTENT: readonly (readonly [Column, (cell: string) => boolean])[] = [
  ["imei", (c) => readImei(c).ok],
  ["build.patch", (c) => /^20[12]\d-\d\d-\d\d$/.test(c) || /^\d\d\.\d\d\.20[12]\d$/.test(c)],
  ["android.release", (c) => /^(android\s*)?\d{1,2}(\.\d){0,2}$/i.test(c) && apiOf(bareRelease(c)) !== null],
  ["battery.percent", (c) => /^\d{1,3}([.,]\d+)?\s*%$/.test(c)],
];

/** "Android 11.0" as it is written everywhere else: "11". */
export function bareRelease(cell: string): string {
  const release = cell.replace(/^android\s*/i, "").trim();
  const whole = release.replace(/(\.0)+$/, "");
  return apiOf(whole) !== null ? whole : release;
}

export interface Guess {
  readonly column: Column | null;
  /** What the guess rests on. */
  readonly by: "memory" | "name" | "content" | "nothing";
}

/**
 * Guesses what each column holds: as it was last time for this source, by the header's name, or by the form of the cells.
 * No two columns hold the same thing: the first keeps it.
 *
 * @param remembered header names in lower case to what they held; from the same source, last time
 */
export function guessColumns(
  header: readonly string[],
  rows: readonly { readonly cells: readonly string[] }[],
  remembered: ReadonlyMap<string, Column | null>,
): Guess[] {
  const guesses: Guess[] = header.map((name) => {
    const known = remembered.get(name.toLowerCase());
    if (known !== undefined) return { column: known, by: "memory" };
    const named = BY_NAME.get(bare(name));
    return named ? { column: named, by: "name" } : { column: null, by: "nothing" };
  });
  const given = new Set<Column>();
  const unique = guesses.map((guess): Guess => {
    if (guess.column === null || !given.has(guess.column)) {
      if (guess.column) given.add(guess.column);
      return guess;
    }
    return { column: null, by: "nothing" };
  });
  return unique.map((guess, i) => {
    if (guess.by !== "nothing") return guess;
    const cells = rows
      .map((r) => (r.cells[i] ?? "").trim())
      .filter((c) => c !== "")
      .slice(0, SAMPLE);
    const found = BY_CONTENT.find(
      ([column, fits]) => !given.has(column) && cells.length > 0 && cells.filter(fits).length >= cells.length * AGREE,
    );
    if (!found) return guess;
    given.add(found[0]);
    return { column: found[0], by: "content" };
  });
}
