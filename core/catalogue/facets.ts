import { z } from "zod";
import type { Cpu } from "./common";

/** What a generic image is built for, beside its processor; null where nobody said. */
export const Facets = z.strictObject({
  /** Bits of the binder it speaks; matters on 32-bit processors, whose kernel may have 64 bits. */
  binder: z.enum(["32", "64"]).nullable(),
  /** Layout: with the root folder inside the system partition (A/B), or outside (A-only). */
  slots: z.enum(["ab", "a-only"]).nullable(),
  /** How far it is patched for vendor parts: a little, a lot for old ones, or for the lite interface (VNDK lite). */
  patching: z.enum(["light", "heavy", "vndk-lite"]).nullable(),
});
export type Facets = z.infer<typeof Facets>;

export const NO_FACETS: Facets = { binder: null, slots: null, patching: null };

export const FACET_WORDS = {
  binder: { "32": "32-bit", "64": "64-bit" },
  slots: { ab: "A/B (root folder inside system)", "a-only": "A-only (root folder outside system)" },
  patching: {
    light: "lightly patched",
    heavy: "heavily patched, for old vendor parts",
    "vndk-lite": "for the lite vendor interface (VNDK lite)",
  },
} as const;

/** What a file's name suggests of a generic image. A guess: nobody has to name files truly. */
export interface FacetGuess extends Facets {
  readonly cpu: Cpu | null;
  readonly services: boolean | null;
  readonly rooted: boolean | null;
  /** The part of the name that each guess rests on. */
  readonly from: Readonly<Partial<Record<"cpu" | "binder" | "slots" | "patching" | "services" | "rooted", string>>>;
}

type Words = readonly (readonly [pattern: RegExp, value: Partial<Omit<FacetGuess, "from">>])[];

const edge = (words: string) => new RegExp(`(?<![a-z0-9])(?:${words})(?![a-z0-9])`);

/** Plain words only, as anybody would use them; the first that is found decides. */
const WORDS: Words = [
  [edge("arm32[_-]binder64|arm[_-]binder64|a64"), { cpu: "arm", binder: "64" }],
  [edge("arm64|aarch64|arm64[_-]?v8a"), { cpu: "arm64", binder: "64" }],
  [edge("arm32|arm|armv7|armv7a|armeabi"), { cpu: "arm" }],
  [edge("binder64|64[_-]?bit[_-]?binder"), { binder: "64" }],
  [edge("binder32|32[_-]?bit[_-]?binder"), { binder: "32" }],
  [edge("a[_-]?only|aonly|one[_-]?slot|single[_-]?slot"), { slots: "a-only" }],
  [edge("ab|a[_-]b|two[_-]?slots?"), { slots: "ab" }],
  [edge("vndk[_-]?lite"), { patching: "vndk-lite" }],
  [edge("patched|legacy|heavy"), { patching: "heavy" }],
  [edge("unpatched|light"), { patching: "light" }],
  [edge("no[_-]?services|vanilla|plain|bare"), { services: false }],
  [edge("with[_-]?services|services"), { services: true }],
  [edge("no[_-]?root|unrooted|no[_-]?su"), { rooted: false }],
  [edge("root|rooted|su"), { rooted: true }],
];

/**
 * Guesses what a generic image is built for from its file's name.
 *
 * @example guessFacets("meadow-15-a64-ab-vndklite.img")?.binder // "64"
 */
export function guessFacets(name: string): FacetGuess {
  const lower = name.toLowerCase().replace(/\.(img|zip|xz|gz|bz2|7z)\b/g, "");
  const guess: Record<string, unknown> = { cpu: null, services: null, rooted: null, ...NO_FACETS };
  const from: Record<string, string> = {};
  for (const [pattern, value] of WORDS) {
    const found = pattern.exec(lower);
    if (!found) continue;
    for (const [facet, is] of Object.entries(value))
      if (guess[facet] === null) {
        guess[facet] = is;
        from[facet] = found[0];
      }
  }
  return { ...guess, from } as unknown as FacetGuess;
}

/**
 * A guess in words, each with what it rests on; empty where the name says nothing.
 *
 * @example guessWords({ cpu: "arm64", from: { cpu: "arm64" }, … })[0] // "processor arm64 …"
 */
export function guessWords({ from, ...g }: FacetGuess): string[] {
  const says: [keyof typeof from, string | null][] = [
    ["cpu", g.cpu && `processor ${g.cpu}`],
    ["binder", g.binder && `binder ${FACET_WORDS.binder[g.binder]}`],
    ["slots", g.slots && `layout ${FACET_WORDS.slots[g.slots]}`],
    ["patching", g.patching && FACET_WORDS.patching[g.patching]],
    ["services", g.services === null ? null : g.services ? "with services" : "without services"],
    ["rooted", g.rooted === null ? null : g.rooted ? "rooted" : "not rooted"],
  ];
  return says.flatMap(([facet, text]) => (text ? [`${text} (“${from[facet]}”)`] : []));
}
