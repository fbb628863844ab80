import { imeiCheckDigit, readImei } from "./imei";
import { isNoNumber } from "./serial";

export type RepairedImei =
  /** The number, with what was mended of it in words ("" when nothing was). */
  | { readonly is: "imei"; readonly imei: string; readonly mended: string }
  | { readonly is: "nothing" }
  /** Not a number that tells this device from another: kept as a remark. `digit`: only its check digit is wrong. */
  | { readonly is: "no-identity"; readonly says: string; readonly digit: boolean };

/**
 * Reads an IMEI out of what spreadsheets make of one: a decimal point, a formula around it, an apostrophe before it, lost
 * leading zeros, two in one cell. Mended only where the check digit proves it.
 *
 * @source 3GPP TS 23.003, 6.2.1; GSMA TS.06 for the reporting bodies (from memory) and Annex B (check digit); what spreadsheets do to long numbers is common practice, no source
 * @example repairImei("490154203237518.0") // { is: "imei", imei: "490154203237518", mended: "a decimal point taken off" }
 */
export function repairImei(text: string): RepairedImei {
  if (isNoNumber(text)) return { is: "nothing" };
  let bare = text.trim();
  const mended: string[] = [];
  const take = (pattern: RegExp, to: string, says: string) => {
    const after = bare.replace(pattern, to);
    if (after !== bare) mended.push(says);
    bare = after;
  };
  take(/^=\s*"?([^"]*)"?$/, "$1", "the formula around it taken off");
  take(/^'+/, "", "the apostrophe before it taken off");
  bare = bare.replace(/^imei\s*\d?\s*[:#.]?\s*/i, "");
  if (/^\d(?:[.,]\d+)?e\+?\d{1,2}$/i.test(bare))
    return {
      is: "no-identity",
      digit: false,
      says: "The spreadsheet has rounded this number: its last digits are lost. Dial *#06# and write it down anew",
    };
  take(/^(\d{13,16})[.,]0+$/, "$1", "a decimal point taken off");
  const numbers = bare
    .split(/[,;|&\n]+|\s+(?:and|und|et|y)\s+|\s{2,}|\s\/\s|(?<=\d{14,15})[\s/]+(?=\d{14,15})/)
    .map((part) => part.trim())
    .filter(Boolean);
  if (numbers.length > 1) {
    const right = numbers.map((n) => readImei(n)).filter((r) => r.ok);
    if (right.length)
      return {
        is: "imei",
        imei: right[0].imei,
        mended: `${numbers.length} numbers in one cell: the first right one was taken`,
      };
    return {
      is: "no-identity",
      digit: false,
      says: "Several numbers in one cell, and none is right. Dial *#06# and write the first one",
    };
  }
  const digits = bare.replace(/[\s\-/.]/g, "");
  if (/^0{14,16}$/.test(digits)) return { is: "nothing" };
  const read = readImei(bare);
  if (read.ok) return { is: "imei", imei: read.imei, mended: mended.join(", ") };
  // A leading zero is lost where a spreadsheet took the number for a number; the check digit proves which it was. Only numbers
  // of the reporting bodies 00 and 01 begin so: fourteen other digits may as well lack their last one.
  if (/^1\d{13}$|^\d{12,13}$/.test(digits)) {
    const padded = digits.padStart(15, "0");
    if (imeiCheckDigit(padded.slice(0, 14)) === Number(padded[14]))
      return { is: "imei", imei: padded, mended: [...mended, "leading zeros that were lost put back"].join(", ") };
  }
  return { is: "no-identity", digit: /^\d{15}$/.test(digits), says: read.says };
}
