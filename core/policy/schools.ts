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
  sameRom: school({
    question: "A newer build of the ROM that runs",
    sides: [
      { value: "clean", says: "clean: wiped before it is written" },
      { value: "over", says: "written over the old one; only data is formatted behind it" },
    ],
    default: "clean",
    why: "what an old build leaves makes the new one slow in ways nobody finds; a donor's data goes in any case, so writing over saves minutes only.",
  }),
  services: school({
    question: "Services inside or beside",
    sides: [
      {
        value: "beside",
        says: "a ROM takes a separate add-on, the smallest that suits; a generic image has them inside",
      },
      { value: "inside", says: "only systems that have them inside; no add-on" },
    ],
    default: "beside",
    why: "a separate add-on can be small and is matched to processor and release; a generic image has no good moment for one, so there they are built in.",
  }),
  wipeAfter: school({
    question: "Formatting after the system too",
    sides: [
      { value: "where-due", says: "where the rule is so: generic image, port, another release" },
      { value: "always", says: "always, to be sure" },
    ],
    default: "where-due",
    why: "a ROM that was sideloaded onto freshly formatted data finds it clean; a second format only takes time, and on the rest it is done by rule.",
  }),
  encryption: school({
    question: "Forced encryption",
    sides: [
      { value: "where-demanded", says: "off only where the recovery can't work with it" },
      { value: "leave", says: "always left on; files come on a stick" },
      { value: "off", says: "always switched off" },
    ],
    default: "where-demanded",
    why: "encrypted storage protects its next owner when the device is lost; it goes off only where nothing can be installed otherwise, by the model's own method.",
  }),
  slotsWritten: school({
    question: "Which slots a stock package goes to",
    sides: [
      { value: "both", says: "bootloader, radio and small parts to both, system to the active one" },
      { value: "active", says: "everything to the active slot only" },
    ],
    default: "both",
    why: "a device that falls back to its other slot must find firmware there that starts; the large system part is written once, to the slot that is used.",
  }),
  gsiFlavour: school({
    question: "Which flavour of generic image first",
    sides: [
      { value: "by-device", says: "lightly patched on newer devices with fastboot, heavily patched on the rest" },
      { value: "light", says: "lightly patched first, everywhere" },
      { value: "heavy", says: "heavily patched first, everywhere" },
    ],
    default: "by-device",
    why: "vendor parts of older and of download-mode devices need the patches that newer ones stumble over; after a failed run the other flavour is the one to try.",
  }),
  newest: school({
    question: "Newest or steady",
    sides: [
      { value: "steady", says: "without open faults first, then the newer release" },
      { value: "newest", says: "the newest release, faults or not" },
    ],
    default: "steady",
    why: "who receives a device wants a camera that works more than a number in Settings; the newest release with an open fault comes back to the bench.",
  }),
  backup: school({
    question: "What a recovery backs up first",
    sides: [
      { value: "identity", says: "the partitions that make the device itself" },
      { value: "system-too", says: "those, and boot and system; never user data" },
      { value: "nothing", says: "nothing, it is being wiped" },
    ],
    default: "identity",
    why: "what makes the device itself can't be fetched anywhere else, so it is saved always; user data never, because it is the donor's and not ours to keep.",
  }),
  errorSeven: school({
    question: "“Error 7” on a services add-on",
    sides: [
      { value: "look", says: "look whether the services are there" },
      { value: "stop", says: "stop, as on a ROM" },
    ],
    default: "look",
    why: "with some recoveries the add-on says it and is installed all the same; on a ROM or firmware it always means another device, another base or no room.",
  }),
  host: school({
    question: "What the bench works with",
    sides: [
      { value: "computer", says: "a computer" },
      { value: "second-phone", says: "a second phone with an OTG lead" },
      { value: "none", says: "neither: only what a device does by itself" },
    ],
    default: "computer",
    why: "a computer takes every way; a second phone runs the same commands and asks to be allowed again after every restart; without either, updates, resets and cards are left. Benches that are written down (Benches) say it for themselves.",
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
  sameRom: side<Side<"sameRom">>(SCHOOLS.sameRom),
  services: side<Side<"services">>(SCHOOLS.services),
  wipeAfter: side<Side<"wipeAfter">>(SCHOOLS.wipeAfter),
  encryption: side<Side<"encryption">>(SCHOOLS.encryption),
  slotsWritten: side<Side<"slotsWritten">>(SCHOOLS.slotsWritten),
  gsiFlavour: side<Side<"gsiFlavour">>(SCHOOLS.gsiFlavour),
  newest: side<Side<"newest">>(SCHOOLS.newest),
  backup: side<Side<"backup">>(SCHOOLS.backup),
  errorSeven: side<Side<"errorSeven">>(SCHOOLS.errorSeven),
  host: side<Side<"host">>(SCHOOLS.host),
  cleaning: side<Side<"cleaning">>(SCHOOLS.cleaning),
} satisfies Record<SchoolKey, z.ZodType>;

/** Schools that a receiving group or a model may have otherwise than the house. */
export const OWN_SCHOOLS = ["root", "services", "relock"] as const satisfies readonly SchoolKey[];

/** Sides that a group or a model has of its own; what it does not name is the house's. */
export const OwnSchools = z.strictObject({
  root: z.enum(["never", "allowed"]).nullable().default(null),
  services: z.enum(["beside", "inside"]).nullable().default(null),
  relock: z.enum(["when-stock", "never"]).nullable().default(null),
});
export type OwnSchools = z.infer<typeof OwnSchools>;
export const NO_OWN_SCHOOLS: OwnSchools = { root: null, services: null, relock: null };

/**
 * The chosen side of a school in words.
 *
 * @example sideWords("root", "no such side") // "no such side"
 */
export function sideWords(key: SchoolKey, value: string): string {
  const sides: readonly { readonly value: string; readonly says: string }[] = SCHOOLS[key].sides;
  return sides.find((s) => s.value === value)?.says ?? value;
}
