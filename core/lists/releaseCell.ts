import { apiOf, releaseOf } from "~/core/android/releases";

/**
 * Names of releases as people write them behind the number, or in its place.
 *
 * @source AOSP, "Codenames, tags, and build numbers"; from memory
 */
const NAMES: Readonly<Record<string, readonly string[]>> = {
  "ice cream sandwich": ["4.0"],
  "jelly bean": ["4.1", "4.2", "4.3"],
  kitkat: ["4.4"],
  lollipop: ["5.0", "5.1"],
  marshmallow: ["6.0"],
  nougat: ["7.0", "7.1"],
  oreo: ["8.0", "8.1"],
  pie: ["9"],
  q: ["10"],
  r: ["11"],
  s: ["12"],
  tiramisu: ["13"],
};

/** "Android 11.0" as it is written everywhere else: "11". */
function bareRelease(release: string): string {
  const whole = release.replace(/(\.0)+$/, "");
  return apiOf(whole) !== null ? whole : release;
}

/**
 * An Android version as people write it: "Android 11.0", "v8.1", "9 (Pie)", "API 28", "Pie". A name that belongs to another
 * number, or to several, leaves the cell as it is: nobody knows which of them is meant.
 *
 * @example releaseCell("Android 9 (Pie)") // "9"
 */
export function releaseCell(cell: string): string {
  const text = cell.trim();
  const level = /^(?:api|sdk)(?:[\s-]*level)?\s*(\d{1,2})$/i.exec(text);
  if (level) return releaseOf(Number(level[1])) ?? text;
  const parts = /^(?:android)?[\s-]*(?:version\s*)?v?(\d+(?:\.\d+)*[a-z]?)?[\s,(-]*([a-z][a-z ]*?)?\s*\)?$/i.exec(text);
  if (!parts) return text;
  const [, number, name] = parts;
  if (!name) return number ? bareRelease(number) : text;
  const named = NAMES[name.toLowerCase()];
  if (!named) return text;
  if (!number) return named.length === 1 ? named[0] : text;
  return named.some((release) => apiOf(release) === apiOf(number)) ? bareRelease(number) : text;
}
