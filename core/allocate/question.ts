/** One way in which a device can serve a group. */
export type Option = {
  readonly group: string;
  readonly way: string;
  /** What it is built with: model and image. Each build costs a pilot and a download. */
  readonly build: string;
  readonly model: string;
  /** Chance that it is ready by the group's day, 0 to 1. */
  readonly chance: number;
  /** Years it will be useful to them. */
  readonly years: number;
  /** Minutes that somebody's hands are on it. */
  readonly hands: number;
  /** Minutes that it takes up a place of a bench, with hands or by itself; nothing said: as long as hands are on it. */
  readonly place?: number;
  /** What somebody has to know to do it; who may do one option with it may do all. Nothing said: anybody may. */
  readonly skill?: string;
};

/** Minutes that there are until a day, all days together: of hands, or of places at the benches. */
export type BenchTime = {
  readonly day: string;
  /** Nothing said: of hands. */
  readonly of?: "hands" | "places";
  /** Hands of those who may do these, and nobody else may: only what takes one of them counts. Nothing said: of everybody. */
  readonly skills?: readonly string[];
  readonly minutes: number;
  /** Evenings that they come from. */
  readonly evenings?: number;
};

/**
 * Minutes of a bench's time that an option takes.
 *
 * @example takes({ …, hands: 12, place: 40 }, { of: "places" }) // 40
 * @example takes({ …, hands: 12, skill: "card" }, { skills: ["usb"] }) // 0
 */
export function takes(
  { hands, place = hands, skill }: Option,
  { of, skills }: Pick<BenchTime, "of" | "skills">,
): number {
  if (skills && (skill === undefined || !skills.includes(skill))) return 0;
  return of === "places" ? place : hands;
}

/** The same choice, whoever's option it is. */
export const sameOption = (one: Option | undefined, other: Option): boolean =>
  one !== undefined && one.group === other.group && one.way === other.way && one.build === other.build;

/** A device with every way in which it can serve anybody. */
export type Candidate = { readonly device: string; readonly options: readonly Option[] };

export type Group = {
  readonly id: string;
  readonly wanted: number;
  readonly least: number;
  /** Days are compared as text: YYYY-MM-DD. */
  readonly by: string;
  readonly weight: number;
  readonly spares: number;
  readonly alike: boolean;
};

/** A person's word on one device and one group. */
export type Pin = {
  readonly device: string;
  readonly group: string;
  readonly kind: "there" | "never";
  /** Nobody pinned it: a promise rests on it. */
  readonly promised?: true;
};

/**
 * Tells whether somebody said that a device never goes to a group.
 *
 * @example neverIn([{ device: "a", group: "g", kind: "never" }])("a", "g") // true
 */
export function neverIn(pins: readonly Pin[]): (device: string, group: string) => boolean {
  const keyOf = (device: string, group: string) => `${device}|${group}`;
  const never = new Set(pins.flatMap((p) => (p.kind === "never" ? [keyOf(p.device, p.group)] : [])));
  return (device, group) => never.has(keyOf(device, group));
}

/** What a division is judged by, each with its reason. */
export const AIMS = ["least", "fair", "years", "builds", "hands"] as const;
export type Aim = (typeof AIMS)[number];

export const AIM_WORDS: Readonly<Record<Aim, { readonly name: string; readonly why: string }>> = {
  least: {
    name: "Least useful numbers are met",
    why: "four tablets are of no use to a class that works in pairs of ten: a number below the least helps nobody",
  },
  fair: {
    name: "Fair shares",
    why: "the group that falls shortest falls as little short as can be; nobody pays for all others",
  },
  years: { name: "Useful years", why: "a device that soon falls under its floor comes back to you" },
  builds: {
    name: "Few builds",
    why: "every build of model and image costs a pilot, a download and somebody who knows it",
  },
  hands: { name: "Few minutes by hand", why: "volunteers' minutes are what runs out first" },
};

/**
 * What a part of an aim is a part of: the value itself. A shortfall is a part already, of what was asked for: half a per cent of
 * one that is small would be less than any device.
 * @example scaleOf("fair", -0.2) // 1
 */
export const scaleOf = (aim: Aim, value: number): number => Math.max(aim === "fair" ? 1 : 1e-3, Math.abs(value));

/** What a computer can't tell apart: an aim that was reached may be missed by this when the next one is looked at. */
export const SLACK = 1e-6;

/** Everything a division is made of. */
export type Question = {
  readonly candidates: readonly Candidate[];
  readonly groups: readonly Group[];
  readonly pins: readonly Pin[];
  /** What counts first stands first; what is left out does not count. */
  readonly aims: readonly Aim[];
  /** Chance with which a least number has to be met, to count as met. */
  readonly confidence: number;
  /** By what part an aim may fall short of its best where that helps the next one; 0: by nothing. */
  readonly leeway: number;
  /** What the bench has until a day; nothing said: as much as is needed. */
  readonly bench: readonly BenchTime[];
};

/** Which device goes where. */
export type Placed = { readonly device: string; readonly option: Option };
