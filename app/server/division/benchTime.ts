import { dayOf } from "~/app/server/http/clock";
import { type BenchTime, type Candidate, takes } from "~/core/allocate/question";
import { type Evening, eveningsBetween, lasts } from "~/core/schedule/hours";
import { skillSets } from "~/core/schedule/skills";
import { handsMinutes } from "~/core/schedule/volunteer";
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

/**
 * Minutes of hands and of places until each group's day, and of hands of those who may do what not everybody may; nothing where
 * nobody wrote down who comes when.
 */
export function benchTime(store: Store, wanted: Wanted, at: Date) {
  const volunteers = openVolunteers(store);
  const { opening } = readOpening(store);
  const missing =
    volunteers.length === 0
      ? "Nobody is written down who comes"
      : opening.hours.length === 0
        ? "No evening is written down that is held"
        : null;
  if (missing) return { bench: [], problems: [`${missing}: bench time is taken as enough. Write it down at Evenings`] };
  const from = dayOf(at);
  const days = [...new Set(wanted.groups.map(({ by }) => by))].filter((by) => by >= from).sort();
  const places = openBenches(store).reduce((sum, bench) => sum + bench.places, 0);
  const sets = skillSets(wanted.skills, volunteers);
  const bench = days.flatMap((day): BenchTime[] => {
    const evenings = eveningsBetween(opening, from, day);
    const minutes = (of: (evening: Evening) => number) => evenings.reduce((sum, evening) => sum + of(evening), 0);
    const until = { day, evenings: evenings.length };
    const known = sets.map(({ skills, who }): BenchTime => {
      return { ...until, of: "hands", skills, minutes: minutes((evening) => handsMinutes(who, evening)) };
    });
    return [
      { ...until, of: "hands", minutes: minutes((evening) => handsMinutes(volunteers, evening)) },
      ...(places > 0 ? [{ ...until, of: "places" as const, minutes: minutes((e) => places * lasts(e)) }] : []),
      ...known.filter((time) => mostWanted(wanted, time) > time.minutes),
    ];
  });
  const nobody = sets.find(({ who }) => who.length === 0)?.skills ?? [];
  return {
    bench,
    problems: [
      ...(places > 0 ? [] : ["No bench is written down: places are taken as enough"]),
      ...nobody.map((skill) => nobodyMay(skill, wanted)),
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

function nobodyMay(skill: string, { candidates, skills }: Wanted): string {
  const count = candidates.filter(({ options }) => options.some((option) => option.skill === skill)).length;
  const names = (skills.get(skill) ?? []).map((id) => WAYS.find((way) => way.id === id)?.says ?? id);
  return `Nobody who comes may do ${names.join(" and ")}: ${count === 1 ? "one device that could go that way does not" : `${count} devices that could go that way do not`}. Show somebody, or write down at Evenings who may`;
}
