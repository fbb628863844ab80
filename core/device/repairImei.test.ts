import { imeiCheckDigit } from "./imei";
import { repairImei } from "./repairImei";
import { normalSerial } from "./serial";

// Published: the example number of 3GPP TS 23.003's check digit; 490154203237518 is the usual worked example (from memory).
const IMEI = "490154203237518";
const SECOND = "356938035643809";
/** A number whose first digit is a zero, as some test equipment has. */
const ZERO = `0${"1234567890123"}${imeiCheckDigit("01234567890123")}`;

describe("IMEIs out of spreadsheets", () => {
  test.each([
    ["as it is", IMEI, IMEI],
    ["with dashes", "49-015420-323751-8", IMEI],
    ["with blanks", "49 015420 323751 8", IMEI],
    ["a decimal point", `${IMEI}.0`, IMEI],
    ["a decimal comma", `${IMEI},00`, IMEI],
    ["a formula", `="${IMEI}"`, IMEI],
    ["an apostrophe", `'${IMEI}`, IMEI],
    ["its name before it", `IMEI: ${IMEI}`, IMEI],
    ["a lost leading zero", ZERO.slice(1), ZERO],
    ["two, with a slash", `${IMEI} / ${SECOND}`, IMEI],
    ["two, with a slash and no blanks", `${IMEI}/${SECOND}`, IMEI],
    ["two, the first misread", `490154203237515; ${SECOND}`, SECOND],
  ])("%s", (_what, text, imei) => expect(repairImei(text)).toMatchObject({ is: "imei", imei }));

  test.each(["", "unknown", "n/a", "N/A", "-", "?", "000000000000000", "0", "keine", "#N/A"])("%j is nothing", (text) =>
    expect(repairImei(text)).toEqual({ is: "nothing" }),
  );

  test.each([
    ["scientific notation", "4.90154E+14", false],
    ["scientific, with a comma", "4,90154E+14", false],
    ["a wrong check digit", "490154203237515", true],
    ["fourteen digits that no zero mends", "49015420323751", false],
    ["sixteen digits", `${IMEI}1`, false],
    ["words", "see sticker", false],
  ])("%s is no identity", (_what, text, digit) => expect(repairImei(text)).toMatchObject({ is: "no-identity", digit }));

  test("what was mended is said", () => {
    expect(repairImei(`${IMEI}.0`)).toMatchObject({ mended: expect.stringContaining("decimal point") });
    expect(repairImei(IMEI)).toMatchObject({ mended: "" });
  });
});

test.each([
  ["RTSN 1", "RTSN1"],
  ["RTSN-1", "RTSN1"],
  ["S/N RTSN1", "RTSN1"],
  ["SN: RTSN1", "RTSN1"],
  ["Serial no. RTSN1", "RTSN1"],
  ["Seriennummer: RTSN1", "RTSN1"],
  ["'00123", "00123"],
  ["SN1", "SN1"],
  ["SNX-55", "SNX55"],
  ["abC12", "abC12"],
  [" - ", null],
])("serial %j is kept as %j", (text, serial) => expect(normalSerial(text)).toBe(serial));
