import { Chance } from "./chance";

/** What may come between a plan and its day; each can be switched off to see what it costs. */
export const CAUSES = ["clearance", "success", "durations", "no-shows"] as const;
export type Cause = (typeof CAUSES)[number];

export const CAUSE_WORDS: Readonly<Record<Cause, string>> = {
  clearance: "donors who have not answered",
  success: "ways that do not go well at the first try",
  durations: "work that takes longer than usual",
  "no-shows": "volunteers who can't come after all",
};

/** A device that goes to a group, with what is uncertain about it. */
export type Uncertain = {
  readonly device: string;
  readonly group: string;
  /** Devices of one donor come together or not at all. */
  readonly donor: string;
  /** Place of the evening on which it is planned to be done; null: not planned before it is cleared. */
  readonly evening: number | null;
  /** Minutes from that evening's beginning until it is planned to be done. */
  readonly minutes: number;
  readonly volunteer: string | null;
  /** Chance that the account lock is settled by the end of each day from today on; empty where it is settled. */
  readonly clearBy: readonly number[];
  /** Chance at the first try, and whether there is a second one. */
  readonly success: number;
  readonly again: boolean;
  /** The device of whose checkout it waits; null where it is the pilot itself. */
  readonly pilot: string | null;
};

export type World = {
  readonly devices: readonly Uncertain[];
  /** Evenings that are held, by their day (days from today) and their length. */
  readonly evenings: readonly { readonly day: number; readonly minutes: number }[];
  readonly groups: readonly {
    readonly id: string;
    readonly wanted: number;
    readonly least: number;
    /** Days from today. */
    readonly by: number;
    /** Devices that were handed over to it already. */
    readonly has: number;
  }[];
  /** Standard deviation of the logarithm of durations. */
  readonly spread: number;
  /** Chance that somebody does not come on an evening after all. */
  readonly noShow: number;
};

/** How many of a group's devices are ready by a day. */
export type OnDay = { readonly day: number; readonly low: number; readonly middle: number; readonly high: number };
export type GroupOdds = {
  readonly group: string;
  /** Its day, in days from the one on which it was played through. */
  readonly by: number;
  /** Chance that at least so many are ready by its day, from the least number to what was asked for. */
  readonly odds: readonly {
    readonly count: number;
    readonly chance: number;
    /** First day by which so many are ready with nine chances in ten; null: none that is known. */
    readonly sure: number | null;
  }[];
  readonly days: readonly OnDay[];
  /** Devices ready by its day that each cause costs, the dearest first; from switching each off in turn. */
  readonly costs: readonly { readonly cause: Cause; readonly devices: number }[];
};

/** How sure one wants to be of a promise. */
const SURE = 0.9;
const NEVER = Number.POSITIVE_INFINITY;

/**
 * What becomes of a division and a timetable when donors, ways, work and volunteers are as uncertain as they are: the same
 * seed gives the same answer, and the same luck with and without a cause.
 *
 * @param runs how often it is played through
 * @source Monte Carlo method; quantiles of the runs are taken as they are
 * @example oddsOf({ groups: [], devices: [], … }, 2000, 1) // []
 */
export function oddsOf(world: World, runs: number, seed: number): GroupOdds[] {
  const all = play(world, runs, seed, null);
  const without = CAUSES.map((cause) => ({ cause, days: play(world, runs, seed, cause) }));
  return world.groups.map((group): GroupOdds => {
    const places = world.devices.flatMap(({ group: to }, k) => (to === group.id ? [k] : []));
    const readyBy = (days: readonly Float64Array[], day: number) =>
      days.map((run) => places.reduce((count, k) => count + (run[k] <= day ? 1 : 0), group.has));
    const counts = readyBy(all, group.by);
    const share = (list: readonly number[], least: number) => list.filter((n) => n >= least).length / runs;
    const mean = (list: readonly number[]) => list.reduce((sum, n) => sum + n, 0) / runs;
    const last = Math.max(group.by, ...world.evenings.map(({ day }) => day));
    const byDay = Array.from({ length: last + 1 }, (_, day) => readyBy(all, day));
    const sureFrom = (least: number) => {
      const day = byDay.findIndex((list) => share(list, least) >= SURE);
      return day < 0 ? null : day;
    };
    return {
      group: group.id,
      by: group.by,
      odds: Array.from({ length: group.wanted - group.least + 1 }, (_, k) => ({
        count: group.least + k,
        chance: share(counts, group.least + k),
        sure: sureFrom(group.least + k),
      })),
      days: byDay.map((list, day) => {
        const sorted = [...list].sort((a, b) => a - b);
        const at = (part: number) => sorted[Math.min(runs - 1, Math.floor(part * runs))];
        return { day, low: at(0.1), middle: at(0.5), high: at(0.9) };
      }),
      costs: without
        .map(({ cause, days }) => ({ cause, devices: mean(readyBy(days, group.by)) - mean(counts) }))
        .sort((a, b) => b.devices - a.devices),
    };
  });
}

/** Per run, the day on which each device is ready; Infinity: it never is. */
function play(world: World, runs: number, seed: number, off: Cause | null): Float64Array[] {
  const { devices, evenings } = world;
  const place = new Map(devices.map(({ device }, k) => [device, k]));
  const people = [...new Set(devices.flatMap(({ volunteer }) => volunteer ?? []))];
  const donors = [...new Set(devices.map(({ donor }) => donor))];
  const chance = new Chance(seed);
  return Array.from({ length: runs }, () => {
    // Every run draws as much luck in the same order, whatever is switched off: only so can two worlds be compared.
    const answers = new Map(donors.map((donor) => [donor, chance.next()]));
    const comes = new Map(people.map((name) => [name, evenings.map(() => chance.next() >= world.noShow)]));
    const luck = devices.map(() => [chance.next(), chance.next(), normal(chance)] as const);
    const ready = new Float64Array(devices.length).fill(NEVER);
    const slipped = new Int32Array(devices.length);
    // Pilots first: the others of their build wait for them.
    const order = [...devices.keys()].sort(
      (a, b) => Number(devices[a].pilot !== null) - Number(devices[b].pilot !== null),
    );
    for (const k of order) {
      const one = devices[k];
      let evening = one.evening;
      if (one.clearBy.length > 0) {
        const drawn = answers.get(one.donor) as number;
        const day = off === "clearance" ? 0 : one.clearBy.findIndex((p) => p > drawn);
        if (day < 0) continue;
        // Answered today, it is worked on from the next evening on.
        evening = evenings.findIndex((each) => each.day > day || (day === 0 && each.day >= 0));
        if (evening < 0) continue;
      }
      if (evening === null) continue;
      const pilot = one.pilot === null ? undefined : place.get(one.pilot);
      if (pilot !== undefined) evening += slipped[pilot];
      const [first, second, work] = luck[k];
      const present = (at: number) =>
        off === "no-shows" || one.volunteer === null || comes.get(one.volunteer)?.[at] !== false;
      const planned = evening;
      if (evening < evenings.length && !present(evening)) evening++;
      const minutes = one.minutes * (off === "durations" ? 1 : Math.exp(world.spread * work));
      if (evening < evenings.length && minutes > evenings[evening].minutes) evening++;
      if (off !== "success" && first >= one.success) {
        if (!one.again || second >= one.success) {
          slipped[k] = 1;
          continue;
        }
        evening++;
      }
      slipped[k] = evening - planned;
      if (evening < evenings.length) ready[k] = evenings[evening].day;
    }
    return ready;
  });
}

/** A number of the standard normal distribution (Box and Muller 1958). */
function normal(chance: Chance): number {
  const radius = Math.sqrt(-2 * Math.log(1 - chance.next()));
  return radius * Math.cos(2 * Math.PI * chance.next());
}
