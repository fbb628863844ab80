import { isNoNumber } from "./serial";
/**
 * IMEI check digit (Luhn over the first 14 digits).
 *
 * @param body exactly 14 digits (TAC and serial number)
 * @returns the check digit, 0 to 9
 * @throws RangeError when `body` is not 14 digits
 * @source 3GPP TS 23.003, Annex B
 * @example imeiCheckDigit("49015420323751") // 8
 */
export function imeiCheckDigit(body: string): number {
  if (!/^\d{14}$/.test(body)) throw new RangeError("An IMEI body has exactly 14 digits");
  let sum = 0;
  for (let i = 0; i < 14; i++) {
    const digit = Number(body[i]);
    const doubled = i % 2 === 1 ? digit * 2 : digit;
    sum += doubled > 9 ? doubled - 9 : doubled;
  }
  return (10 - (sum % 10)) % 10;
}

export type ImeiReading =
  | { readonly ok: true; readonly imei: string; readonly tac: string }
  | { readonly ok: false; readonly says: string };

/**
 * Reads an IMEI as people type it: spaces, dashes, slashes allowed, 15 digits.
 *
 * @returns the bare digits and the type allocation code, or what is wrong in words
 * @example readImei("490154203237518").ok // true
 */
export function readImei(text: string): ImeiReading {
  const digits = text.replace(/[\s\-/.]/g, "");
  if (!/^\d*$/.test(digits)) return { ok: false, says: "An IMEI has digits only" };
  if (digits.length !== 15) return { ok: false, says: `An IMEI has 15 digits; this has ${digits.length}` };
  const expected = imeiCheckDigit(digits.slice(0, 14));
  if (expected !== Number(digits[14])) {
    return {
      ok: false,
      says: `The last digit of the IMEI should be ${expected}, not ${digits[14]}: one digit was misread. Dial *#06# and compare`,
    };
  }
  return { ok: true, imei: digits, tac: digits.slice(0, 8) };
}

/**
 * A number that is personal data, shown by its last four characters only.
 *
 * @example maskNumber("490154203237518") // "…7518"
 */
export function maskNumber(text: string): string {
  return text.length <= 4 || isNoNumber(text) ? text : `…${text.slice(-4)}`;
}
