import { dayOf } from "~/app/server/http/clock";
import { type BenchTime, type Candidate, takes } from "~/core/allocate/question";
import type { TakenAsEnough } from "~/core/allocate/takenAsEnough";
import { type Evening, eveningsBetween, lasts } from "~/core/schedule/hours";
import { skillSets } from "~/core/schedule/skills";
import { eveningsOf, handsMinutes, mayDo, type Volunteer } from "~/core/schedule/volunteer";
import { WAYS } from "~/core/ways/registry";
import { openBenches } from "~/store/benches";
import type { Store } from "~/store/database";
import { openVolunteers, readOpening } from "~/store/evenings";

/** What wants the bench's time. */
export interface Wanted {
  readonly groups: readonly { readonly id: number; readonly by: string }[];
  readonly candidates: readonly Candidate[];
  /** Per skill of the options, the ways that somebody has to know for it. */
  readonly skills: ReadonlyMap<string, readonly string[]>;
}

interface Told {
  readonly bench: readonly BenchTime[];
  /** Of what nobody wrote down how much there is. */
  readonly enough: readonly TakenAsEnough[];
  readonly problems: readonly string[];
}

/**
 * Minutes of hands and of places until each group's day, and of hands of those who may do what not everybody may; nothing where
 * nobody wrote down who comes when.
 */
export function benchTime(store: Store, wanted: Wanted, at: Date): Told {
  const volunteers = openVolunteers(store);
  const { opening } = readOpening(store);
  if (volunteers.length === 0) return { bench: [], enough: ["hands"], problems: [] };
  if (opening.hours.length === 0) return { bench: [], enough: ["evenings"], problems: [] };
  const from = dayOf(at);
  const days = [...new Set(wanted.groups.map(({ by }) => by))].filter((by) => by >= from).sort();
  const places = openBenches(store).reduce((sum, bench) => sum + bench.places, 0);
  const held = eveningsBetween(opening, from, days.at(-1) ?? from);
  const coming = volunteers.filter((each) => eveningsOf(each, held).length > 0);
  const sets = skillSets(wanted.skills, coming);
  const bench = days.flatMap((day): BenchTime[] => {
    const evenings = held.filter((evening) => evening.day <= day);
    const minutes = (of: (evening: Evening) => number) => evenings.reduce((sum, evening) => sum + of(evening), 0);
    const until = { day, evenings: evenings.length };
    const hands = (who: readonly Volunteer[]) => minutes((evening) => handsMinutes(who, evening));
    const known = sets.map(({ skills, who }): BenchTime => ({ ...until, of: "hands", skills, minutes: hands(who) }));
    return [
      { ...until, of: "hands", minutes: hands(coming) },
      ...(places > 0 ? [{ ...until, of: "places" as const, minutes: minutes((e) => places * lasts(e)) }] : []),
      ...known.filter((time) => mostWanted(wanted, time) > time.minutes),
    ];
  });
  const nobody = sets.find(({ who }) => who.length === 0)?.skills ?? [];
  return {
    bench,
    enough: places > 0 ? [] : ["places"],
    problems: [
      ...(coming.length > 0 || held.length === 0 ? [] : ["Nobody comes on any evening that is held: look at Evenings"]),
      ...nobodyMay(nobody, wanted, coming),
    ],
  };
}

/** Minutes that all devices together could want of such a time, each by what takes most of it. */
function mostWanted({ candidates, groups }: Wanted, time: BenchTime): number {
  const inTime = new Set(groups.flatMap(({ id, by }) => (by <= time.day ? [String(id)] : [])));
  const most = ({ options }: Candidate) =>
    options.reduce((max, option) => (inTime.has(option.group) ? Math.max(max, takes(option, time)) : max), 0);
  return candidates.reduce((sum, candidate) => sum + most(candidate), 0);
}

/** What nobody may do, in words: ways that nobody knows, and ways that are known, but not all by the same person. */
function nobodyMay(
  skills: readonly string[],
  wanted: Wanted,
  volunteers: readonly Pick<Volunteer, "ways">[],
): readonly string[] {
  const waysOf = (skill: string) => wanted.skills.get(skill) ?? [];
  const unknown = [...new Set(skills.flatMap(waysOf))].filter((way) => !volunteers.some((each) => mayDo(each, [way])));
  const isUnknown = (skill: string) => waysOf(skill).some((way) => unknown.includes(way));
  const says = (ways: readonly string[], of: readonly string[]) => {
    const count = wanted.candidates.filter(({ options }) =>
      options.some(({ skill = "" }) => of.includes(skill)),
    ).length;
    const could =
      count === 1 ? "one device that could go such a way does not" : `${count} devices that could go such a way do not`;
    const names = ways.map((id) => WAYS.find((way) => way.id === id)?.says ?? id);
    return `${names.join(", ")}: ${could}. Show somebody, or write down at Evenings who may`;
  };
  const apart = skills.filter((skill) => !isUnknown(skill));
  return [
    ...(unknown.length > 0 ? [`Nobody who comes may do ${says(unknown, skills.filter(isUnknown))}`] : []),
    ...apart.map((skill) => `Nobody who comes may do all of ${says(waysOf(skill), [skill])}`),
  ];
}
