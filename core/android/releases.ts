/**
 * Android releases and their API levels.
 *
 * One row per API level; `release` is what Settings shows, `letter` the AOSP build-number letter of that level
 * (null before Cupcake and from 15 on, where the letter no longer names the release).
 *
 * @source Android developer documentation, "uses-sdk" API level table (written from memory, checked in the tests
 *         against the `android-versions` package)
 */
export interface Release {
  readonly api: number;
  readonly release: string;
  readonly letter: string | null;
}

const row = (api: number, release: string, letter: string | null): Release => ({ api, release, letter });

export const RELEASES: readonly Release[] = [
  row(1, "1.0", null),
  row(2, "1.1", null),
  row(3, "1.5", "C"),
  row(4, "1.6", "D"),
  row(5, "2.0", "E"),
  row(6, "2.0.1", "E"),
  row(7, "2.1", "E"),
  row(8, "2.2", "F"),
  row(9, "2.3", "G"),
  row(10, "2.3.3", "G"),
  row(11, "3.0", "H"),
  row(12, "3.1", "H"),
  row(13, "3.2", "H"),
  row(14, "4.0", "I"),
  row(15, "4.0.3", "I"),
  row(16, "4.1", "J"),
  row(17, "4.2", "J"),
  row(18, "4.3", "J"),
  row(19, "4.4", "K"),
  row(20, "4.4W", "K"),
  row(21, "5.0", "L"),
  row(22, "5.1", "L"),
  row(23, "6.0", "M"),
  row(24, "7.0", "N"),
  row(25, "7.1", "N"),
  row(26, "8.0", "O"),
  row(27, "8.1", "O"),
  row(28, "9", "P"),
  row(29, "10", "Q"),
  row(30, "11", "R"),
  row(31, "12", "S"),
  row(32, "12L", "S"),
  row(33, "13", "T"),
  row(34, "14", "U"),
  row(35, "15", null),
  row(36, "16", null),
  row(37, "17", null),
];

export const NEWEST_API = RELEASES[RELEASES.length - 1].api;

const byApi = new Map(RELEASES.map((r) => [r.api, r]));
const byRelease = new Map(RELEASES.map((r) => [r.release.toLowerCase(), r]));

/**
 * The release name of an API level, as Settings shows it.
 *
 * @param api whole API level, 1 to 37
 * @returns the release name, or null for a level that is not in the table
 * @example releaseOf(30) // "11"
 */
export function releaseOf(api: number): string | null {
  return byApi.get(api)?.release ?? null;
}

/**
 * The API level of a release as people and devices write it.
 *
 * Accepts a leading "Android", a patch digit ("8.1.0", "4.4.4", "11.0"), and 12.1, as the source of 12L is tagged. What only
 * begins like a release counts as that one ("10.5" as 10): a catalogue may hold it; see {@link isRelease}.
 *
 * @returns the API level, or null when the text names no release
 * @source AOSP, "Codenames, tags, and build numbers"; from memory
 * @example apiOf("Android 8.1.0") // 27
 */
export function apiOf(release: string): number | null {
  const text = bare(release);
  if (!/^\d+(\.\d+)*[a-z]?$/.test(text)) return null;
  for (let begins = text; ; begins = begins.replace(/\.\d+$/, "")) {
    const api = exactApi(begins);
    if (api !== null || !/\.\d+$/.test(begins)) return api;
  }
}

/**
 * True for what some release really was called. "10.5" and "7.5" were none: a maker's version of its own surface, as a rule,
 * which says nothing of the Android below it. So nobody is believed who says that a device runs it.
 *
 * @example isRelease("10.5") // false
 */
export const isRelease = (text: string): boolean => exactApi(bare(text)) !== null;

const bare = (release: string) =>
  release
    .trim()
    .toLowerCase()
    .replace(/^android\s*/, "");

/** From Android 8 on a release has no third number but 0: its updates are told by the patch date. */
const LAST_WITH_PATCH_DIGITS = 7;

function exactApi(text: string): number | null {
  const exact = byRelease.get(text);
  if (exact) return exact.api;
  if (!/^\d{1,2}(\.\d{1,2}){0,2}$/.test(text)) return null;
  const [major, minor = 0, patch = 0] = text.split(".").map(Number);
  if (major === 12 && minor === 1 && patch === 0) return 32;
  if (patch > (major > LAST_WITH_PATCH_DIGITS ? 0 : 9)) return null;
  let api: number | null = null;
  for (const known of RELEASES) {
    const [ofMajor, ofMinor = 0, from = 0] = known.release.split(".").map(Number);
    if (ofMajor === major && ofMinor === minor && from <= patch) api = known.api;
  }
  return api;
}

/**
 * "Android 11 · API 30", the way the product always writes a release.
 *
 * @example describeRelease(27) // "Android 8.1 · API 27"
 */
export function describeRelease(api: number): string {
  const release = releaseOf(api);
  return release === null ? `API ${api}` : `Android ${release} · API ${api}`;
}
