/** What people write before a serial number. */
const LABEL =
  /^(?:s[\s./\\-]?n(?:o|r)?[.:#\s]*|serial(?:\s*(?:no|nr|number|#))?[.:#\s]+|serien-?(?:nr|nummer)[.:#\s]+)(?=[A-Za-z0-9])/i;

/**
 * A serial number in the one form in which it is kept and compared: without a label, blanks, dashes, dots and slashes.
 * Upper and lower case stay as they are written, and are the same when two are compared.
 *
 * @returns the number, or null where nothing of it is left
 * @example normalSerial("S/N RTSN-1") // "RTSN1"
 */
export function normalSerial(text: string): string | null {
  const bare = text.trim().replace(/^'+/, "");
  // "SN1" is a number that begins so; "SN 1" and "SN: 1" are labels.
  const labelled = /^s[\s./\\-]?n\w/i.test(bare) && !/^s[./\\]n/i.test(bare) ? bare : bare.replace(LABEL, "");
  const number = labelled.replace(/[\s\-–_./\\:#]+/g, "");
  return number === "" ? null : number.slice(0, 60);
}

/**
 * Whether two serial numbers are one.
 *
 * @example sameSerial("RTSN 1", "S/N RTSN-1") // true
 */
export const sameSerial = (a: string, b: string): boolean =>
  normalSerial(a)?.toLowerCase() === normalSerial(b)?.toLowerCase();

const UNKNOWN = new Set([
  "unknown",
  "unbekannt",
  "inconnu",
  "desconocido",
  "n/a",
  "na",
  "n.a.",
  "?",
  "??",
  "-",
  "--",
  "—",
  "–",
  "nil",
  "null",
  "tbd",
  "missing",
  "fehlt",
  "#n/a",
  "#ref!",
  "#value!",
  "#name?",
  "#num!",
  "#null!",
  "#div/0!",
]);
/** What stands for no number, and may mean something in another column. */
const NONE = new Set(["x", "xx", "xxx", "no", "nein", "ohne", "0", "kein", "keine", "none"]);

/**
 * True for what people write where something is not known; an error of a spreadsheet is no value either.
 *
 * @example isUnknown(" n/a ") // true
 */
export const isUnknown = (text: string): boolean => UNKNOWN.has(text.trim().toLowerCase());

/**
 * True for what people write where a number is not known: it tells no device from another.
 *
 * @example isNoNumber("000000000000000") // true
 */
export const isNoNumber = (text: string): boolean => {
  const bare = text.trim().toLowerCase();
  return bare === "" || UNKNOWN.has(bare) || NONE.has(bare) || /^0+$/.test(bare.replace(/[\s\-/.]/g, ""));
};

/**
 * The ends of two numbers, no longer than it takes to tell them apart, four characters at least.
 *
 * @example endsApart("BTS4000121", "BTS0000121") // ["4000121", "0000121"]
 */
export function endsApart(a: string, b: string): readonly [string, string] {
  let length = 4;
  while (length < Math.max(a.length, b.length) && a.slice(-length) === b.slice(-length)) length++;
  return [a.slice(-length), b.slice(-length)];
}
