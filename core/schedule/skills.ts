import { mayDo, type Volunteer } from "./volunteer";

/** So many sets are told at most; those of single skills come first, then of two, and so on. */
const MOST = 64;

/**
 * Which skills hold each other up: for every set of people that a few skills leave, all skills that nobody outside of it has.
 * Work for volunteers fits into their minutes exactly when it does for each of these sets, and for everybody together.
 *
 * @param skills per skill, the ways that somebody has to know for it, all of them
 * @returns what everybody may do is left out; where nobody may, nobody is in its set
 * @source Hall's condition for flows with capacities (Gale 1957, Pacific Journal of Mathematics 7)
 * @example skillSets(new Map([["card", ["card"]]]), [{ ways: ["card"] }, { ways: ["usb"] }]).map(({ who }) => who.length) // [1]
 */
export function skillSets<V extends Pick<Volunteer, "ways">>(
  skills: ReadonlyMap<string, readonly string[]>,
  volunteers: readonly V[],
): { readonly skills: readonly string[]; readonly who: readonly V[] }[] {
  const able = [...skills].map(([skill, ways]) => ({
    skill,
    who: new Set(volunteers.filter((each) => mayDo(each, ways))),
  }));
  const keyOf = (who: ReadonlySet<V>) => volunteers.map((each) => Number(who.has(each))).join("");
  const own = new Map(able.map(({ who }) => [keyOf(who), who]));
  const all = new Map(own);
  // A set that is found is joined with each single one: the list grows while it is gone through.
  for (const set of all.values())
    for (const single of own.values()) {
      const both = new Set([...set, ...single]);
      if (all.size < MOST) all.set(keyOf(both), both);
    }
  return [...all.values()].flatMap((who) =>
    who.size === volunteers.length
      ? []
      : [
          {
            skills: able.flatMap((each) => ([...each.who].every((one) => who.has(one)) ? [each.skill] : [])),
            who: volunteers.filter((each) => who.has(each)),
          },
        ],
  );
}
