/** What a group was told: so many devices by a day, and how sure that was when it was told. */
export type GroupPromise = {
  readonly count: number;
  /** YYYY-MM-DD. */
  readonly day: string;
  readonly chance: number;
};

export type PromiseOutcome = "open" | "kept" | "broken";

/**
 * What came of a promise, by what was handed over, not by what was planned: early is kept too, a day late is broken.
 *
 * @param days days on which the group was given a device, YYYY-MM-DD
 * @example outcomeOfPromise({ count: 2, day: "2026-12-14" }, ["2026-12-10", "2026-12-15"], "2026-12-16") // "broken"
 */
export function outcomeOfPromise({ count, day }: GroupPromise, days: readonly string[], today: string): PromiseOutcome {
  if (days.filter((each) => each <= day).length >= count) return "kept";
  return today > day ? "broken" : "open";
}

/** What stands in the letter to a group. */
export type PromiseLetter = {
  readonly group: string;
  readonly organisation: string;
  readonly sender: string;
  readonly wanted: number;
  readonly count: number;
  /** The days as they are read. */
  readonly day: string;
  readonly sure: string | null;
  readonly chance: number;
  /** What they will get, by model and Android release, with how many of each. */
  readonly kinds: readonly { readonly name: string; readonly count: number }[];
  /** Devices that still wait for somebody else's word. */
  readonly uncleared: number;
  /** What holds it up most; null where nothing in particular does. */
  readonly holdsUp: string | null;
};

/** "in 85 of 100 such cases": a chance as people read it, never rounded up to certainty. */
export const chanceInWords = (chance: number): string =>
  chance >= 0.995
    ? "in more than 99 of 100 such cases"
    : chance < 0.005
      ? "in fewer than 1 of 100 such cases"
      : `in ${Math.round(100 * chance)} of 100 such cases`;

/**
 * What you will get, by when, how sure: the letter to a group, as plain text.
 *
 * @example promiseLetter({ wanted: 10, count: 9, day: "14 Dec", … }).subject // "9 of the 10 devices you asked for, by 14 Dec"
 */
export function promiseLetter(letter: PromiseLetter): { readonly subject: string; readonly body: string } {
  const { group, organisation, sender, wanted, count, day, sure, chance, kinds, uncleared, holdsUp } = letter;
  const devices = (n: number) => (n === 1 ? "1 device" : `${n} devices`);
  const body = [
    `To ${group},`,
    `you asked us for ${devices(wanted)} by ${day}. This is what we can say today.`,
    `We plan to hand over ${count === wanted ? (wanted === 1 ? "it" : `all ${wanted}`) : `${count} of them`} by ${day}. By what we know of the devices, their donors, our benches and our volunteers, this holds ${chanceInWords(chance)}.` +
      (sure && sure !== day ? ` Nine times in ten it is done by ${sure}.` : ""),
    kinds.length > 0
      ? `What is meant for you at the moment:\n${kinds.map(({ name, count: n }) => `- ${n} × ${name}`).join("\n")}`
      : null,
    uncleared > 0
      ? `${uncleared === 1 ? "One of them still waits" : `${uncleared} of them still wait`} for a former owner to sign out. We never work on a device before that, so ${uncleared === 1 ? "it" : "these"} can't be promised for certain.`
      : null,
    holdsUp ? `What could hold it up most: ${holdsUp}.` : null,
    `If anything changes we write to you. Please plan nothing that can't wait a week before you have them in hand.`,
    `${sender}\n${organisation}`,
  ];
  return {
    subject: `${count} of the ${devices(wanted)} you asked for, by ${day}`,
    body: body.filter((part) => part !== null).join("\n\n"),
  };
}
