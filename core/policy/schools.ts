import { z } from "zod";

/** A question on which practitioners disagree: the sides, the default, and why it is the default. */
export interface School<V extends string = string> {
  readonly question: string;
  readonly sides: readonly { readonly value: V; readonly says: string }[];
  readonly default: V;
  readonly why: string;
}

const school = <const V extends string>(of: School<V>): School<V> => of;

/**
 * The schools, each in one place: the planner reads the chosen side from the policy, the form and the docs come from here.
 * Defaults are common practice, no source.
 */
export const SCHOOLS = {
  goingDown: school({
    question: "Going down a release",
    sides: [
      { value: "via-stock", says: "to stock first, then the older ROM" },
      { value: "direct", says: "directly, where the model has a recorded success" },
    ],
    default: "via-stock",
    why: "stock puts back every part that the newer system changed; going directly leaves what nobody looked at, and saves an hour only when it works at once.",
  }),
  verificationOrder: school({
    question: "Verification file",
    sides: [
      { value: "before", says: "before the image" },
      { value: "after", says: "after the image" },
    ],
    default: "before",
    why: "both work; written before, a device whose lead drops out during the long write of the image is not left checking a system it must refuse.",
  }),
  root: school({
    question: "Rooted images",
    sides: [
      { value: "never", says: "never" },
      { value: "allowed", says: "allowed" },
    ],
    default: "never",
    why: "banking apps refuse a rooted system, and its next owner did not ask for the risk. Allow them only where a receiving group asks.",
  }),
  relock: school({
    question: "Locking again",
    sides: [
      { value: "when-stock", says: "yes, when stock was written whole and has started" },
      { value: "never", says: "never" },
    ],
    default: "when-stock",
    why: "a locked bootloader keeps updates and banking apps working. Anything else on a locked device kills it, so nothing is ever locked on trust.",
  }),
  wayBack: school({
    question: "A way without a way back",
    sides: [
      { value: "allowed", says: "allowed without a word" },
      { value: "warned", says: "allowed, and warned of" },
      { value: "refused", says: "refused" },
    ],
    default: "warned",
    why: "without a stock package a failed write ends the device; where it would go to parts otherwise, that may be worth the try, as long as one knows.",
  }),
  wipeBefore: school({
    question: "Wiping before a ROM",
    sides: [
      { value: "advanced", says: "advanced: cache, dalvik, system, data" },
      { value: "factory", says: "a factory reset in the recovery" },
    ],
    default: "advanced",
    why: "donated devices keep no data, so nothing speaks for leaving the old system's parts; a factory reset leaves the system partition as it was.",
  }),
  repeatWrite: school({
    question: "Writing each part",
    sides: [
      { value: "once", says: "once; only a part that failed again" },
      { value: "twice", says: "twice, to be sure" },
    ],
    default: "once",
    why: "the client tells when a part did not go through; writing all twice doubles the time and the wear for a part that was right already.",
  }),
  cleaning: school({
    question: "Cleaning the stock system",
    sides: [
      { value: "stuck", says: "where no ROM and no generic image brings the device up" },
      { value: "stock", says: "wherever it goes out with the maker's system" },
      { value: "never", says: "never" },
    ],
    default: "stuck",
    why: "it takes an hour of hands, and the next update or reset brings everything back; on a device that gets nothing newer it is what makes the old system usable.",
  }),
} as const;

export type SchoolKey = keyof typeof SCHOOLS;
export const SCHOOL_KEYS = Object.keys(SCHOOLS) as SchoolKey[];

type Side<K extends SchoolKey> = (typeof SCHOOLS)[K]["sides"][number]["value"];

const side = <V extends string>({ sides, default: usual }: School<V>) =>
  z.enum(sides.map((s) => s.value) as [V, ...V[]]).default(usual as never);

/** The policy's fields for the schools: one enumeration each, with its default. */
export const SchoolFields = {
  goingDown: side<Side<"goingDown">>(SCHOOLS.goingDown),
  verificationOrder: side<Side<"verificationOrder">>(SCHOOLS.verificationOrder),
  root: side<Side<"root">>(SCHOOLS.root),
  relock: side<Side<"relock">>(SCHOOLS.relock),
  wayBack: side<Side<"wayBack">>(SCHOOLS.wayBack),
  wipeBefore: side<Side<"wipeBefore">>(SCHOOLS.wipeBefore),
  repeatWrite: side<Side<"repeatWrite">>(SCHOOLS.repeatWrite),
  cleaning: side<Side<"cleaning">>(SCHOOLS.cleaning),
} satisfies Record<SchoolKey, z.ZodType>;

/** The chosen side of a school in words. */
export function sideWords(key: SchoolKey, value: string): string {
  const sides: readonly { readonly value: string; readonly says: string }[] = SCHOOLS[key].sides;
  return sides.find((s) => s.value === value)?.says ?? value;
}
