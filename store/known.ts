import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

/** A device of the users' own list of supported devices. */
export interface KnownDevice {
  readonly brand: string;
  readonly name: string;
  readonly device: string;
  readonly model: string;
}

const clear = change<object>(`DELETE FROM known_device`);
const insert = change<KnownDevice>(`
  INSERT INTO known_device (brand, name, device, model) VALUES (@brand, @name, @device, @model)
`);
const list = queryOne<object, { file: string; rows: number } & Hand>(
  `SELECT file, rows, at, by FROM known_list WHERE id = 1`,
);
const putList = change<{ file: string; rows: number } & Hand>(`
  INSERT INTO known_list (id, file, rows, at, by) VALUES (1, @file, @rows, @at, @by)
  ON CONFLICT (id) DO UPDATE SET file = excluded.file, rows = excluded.rows, at = excluded.at, by = excluded.by
`);
const match = query<{ words: string; limit: number }, KnownDevice>(`
  SELECT brand, name, device, model FROM known_device WHERE known_device MATCH @words ORDER BY rank LIMIT @limit
`);
const begins = query<{ start: string; limit: number }, KnownDevice>(`
  SELECT brand, name, device, model FROM known_device
  WHERE  model LIKE @start ESCAPE '\\' OR device LIKE @start ESCAPE '\\' OR name LIKE @start ESCAPE '\\'
  LIMIT  @limit
`);

/** Replaces the whole list, all or nothing. */
export function replaceKnown(store: Store, file: string, devices: readonly KnownDevice[], hand: Hand) {
  inTransaction(store, () => {
    clear(store, {});
    for (const device of devices) insert(store, device);
    putList(store, { file, rows: devices.length, ...hand });
  });
}

/** The index is made of runs of three letters: what is shorter is not in it. */
const isLong = (word: string) => [...word].length >= 3;

/** Words that must all occur, as the index is asked for them: what else could mean something to it is quoted. */
const each = (words: readonly string[]) => words.map((w) => `"${w.replaceAll('"', '""')}"`).join(" ");

export const knownList = (store: Store) => list(store, {}) ?? null;

/**
 * Devices of the list in which every word occurs somewhere, best first.
 *
 * @param text words; those of fewer than three letters are looked for at the beginning of a name only when nothing else is given
 */
export function searchKnown(store: Store, text: string, limit = 50): KnownDevice[] {
  const words = text.trim().slice(0, 100).split(/\s+/).filter(Boolean);
  const long = words.filter(isLong);
  if (long.length > 0) return match(store, { words: each(long), limit });
  return words.length > 0 ? begins(store, { start: `${words[0].replace(/[\\%_]/g, "\\$&")}%`, limit }) : [];
}

const exact = query<{ words: string; text: string }, KnownDevice>(`
  SELECT brand, name, device, model FROM known_device
  WHERE  known_device MATCH @words
  AND    @text COLLATE NOCASE IN (model, device, name, brand || ' ' || name)
  LIMIT  20
`);

/** Devices whose model number, code name or market name, with its maker or without, is exactly this. */
export function knownAs(store: Store, text: string): KnownDevice[] {
  const whole = text.trim();
  if (!isLong(whole)) return [];
  // Maker and name stand in columns of their own: each word is looked for by itself, and the whole is compared.
  const long = whole.split(/\s+/).filter(isLong);
  return exact(store, { text: whole, words: each(long.length > 0 ? long : [whole]) });
}
