import { readImei } from "./imei";

/** What a barcode at the table is. */
export type Scanned =
  | { readonly is: "tag"; readonly tag: string }
  | { readonly is: "imei"; readonly imei: string }
  | { readonly is: "serial"; readonly serial: string }
  | { readonly is: "wrong"; readonly says: string };

/**
 * Tells what was scanned by its form: our own label (its address, or a tag with the house's beginning), fifteen digits with
 * a right check digit, or a maker's serial number.
 *
 * @param tagStart how this batch's tags begin, for example "TH-"
 * @example tellScan("490154203237518", "TH-").is // "imei"
 */
export function tellScan(given: string, tagStart: string): Scanned {
  const text = given.trim();
  if (text === "") return { is: "wrong", says: "Nothing was scanned" };
  const address = /^https?:\/\/[^/]+\/devices\/([A-Za-z0-9-]{1,24})$/.exec(text);
  if (address) return { is: "tag", tag: address[1] };
  const start = tagStart.toLowerCase();
  if (
    start !== "" &&
    text.length > start.length &&
    text.toLowerCase().startsWith(start) &&
    /^[A-Za-z0-9][A-Za-z0-9-]{0,23}$/.test(text)
  )
    return { is: "tag", tag: text };
  // Labels in boxes write "IMEI: …" or "S/N …" into the code.
  const named = /^(imei1?|s\/?n|serial(?: no\.?| number)?)\s*[:#]?\s*(.+)$/i.exec(text);
  const bare = (named ? named[2] : text).trim();
  const isImei = named
    ? /^imei/i.test(named[1])
    : /^[\d\s/.-]{15,19}$/.test(bare) && bare.replace(/\D/g, "").length === 15;
  if (isImei) {
    const read = readImei(bare);
    return read.ok ? { is: "imei", imei: read.imei } : { is: "wrong", says: read.says };
  }
  if (/^[A-Za-z0-9][A-Za-z0-9/_-]{4,39}$/.test(bare) && (named || /\d/.test(bare)))
    return { is: "serial", serial: bare };
  return {
    is: "wrong",
    says: `“${text.slice(0, 40)}” is neither a tag${tagStart ? ` (${tagStart}…)` : ""}, nor an IMEI, nor a serial number. Scan the other bar code`,
  };
}
