/**
 * AOSP build numbers.
 *
 * Two shapes are in use: since Android 8 `TQ3A.230805.001.A1` (release letter, branch, date yymmdd, number, fix), before
 * that `NRD90M` (release letter, branch letters, date code, revision). Makers put their own text around them; anything
 * else is kept as text and can only be compared for equality.
 *
 * @source AOSP "Codenames, tags, and build numbers"
 */
export interface BuildNumber {
  readonly text: string;
  readonly letter: string;
  readonly branch: string;
  /** Days that can be ordered: `yymmdd` for the new shape, quarter letter and day for the old one. */
  readonly date: string;
  readonly number: string;
}

const DATED = /\b([A-Z])([A-Z0-9]{2,3})\.(\d{6})\.(\d{3})(?:\.([A-Z]\d+))?\b/;
const QUARTERED = /\b([A-Z])([A-Z]{2})(\d{2})([A-Z])?\b/;

/**
 * Reads the AOSP build number in a text.
 *
 * @returns the parts, or null when the text holds none
 * @example parseBuildNumber("TQ3A.230805.001.A1")?.letter // "T"
 */
export function parseBuildNumber(text: string): BuildNumber | null {
  const dated = DATED.exec(text);
  if (dated) {
    return {
      text: dated[0],
      letter: dated[1],
      branch: dated[2],
      date: dated[3],
      number: `${dated[4]}${dated[5] ?? ""}`,
    };
  }
  const old = QUARTERED.exec(text);
  if (old) return { text: old[0], letter: old[1], branch: old[2], date: `${old[2][1]}${old[3]}`, number: old[4] ?? "" };
  return null;
}

/**
 * Which of two build numbers is the newer, or null when that can't be told.
 *
 * Numbers of one branch are ordered by date and number; across branches only by release letter.
 *
 * @returns negative when `a` is older, 0 when the texts are equal, positive when newer, null when not comparable
 * @example compareBuildNumbers("TQ1A.230105.001", "TQ1A.230205.001") // < 0
 */
export function compareBuildNumbers(a: string, b: string): number | null {
  if (a.trim() === b.trim()) return 0;
  const x = parseBuildNumber(a);
  const y = parseBuildNumber(b);
  if (!x || !y) return null;
  if (x.letter !== y.letter) return x.letter < y.letter ? -1 : 1;
  if (x.date.length !== y.date.length) return x.date.length < y.date.length ? -1 : 1;
  if (x.date.length !== 6 && x.branch !== y.branch) return null;
  const left = x.date + x.number;
  const right = y.date + y.number;
  if (left === right) return null;
  return left < right ? -1 : 1;
}
