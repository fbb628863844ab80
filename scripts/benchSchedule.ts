import { performance } from "node:perf_hooks";
import { Chance } from "~/core/schedule/chance";
import { changesIn } from "~/core/schedule/cost";
import { eveningProblem, type Job, minuteAt, type Work } from "~/core/schedule/eveningWork";
import type { Piece } from "~/core/schedule/pieces";
import { plannedOf } from "~/core/schedule/planned";
import { problemOf } from "~/core/schedule/problem";
import { solve, solving } from "~/core/schedule/solve";
import * as shops from "~/testing/jobShops";
import { solveOnThreads } from "./scheduleThreads";

const now = () => performance.now();

/** Made-up evenings: sheets as they are here, a fifth part of the devices with a day. */
export function makeWork(devices: number, volunteers: number, evenings: number, seed = 3): Work {
  const chance = new Chance(seed);
  const days = Array.from({ length: evenings }, (_, k) =>
    new Date(Date.UTC(2026, 11, 1 + Math.floor(k / 2) * 7 + (k % 2) * 2)).toISOString().slice(0, 10),
  );
  const piece = (kind: Piece["kind"], minutes: number): Piece => ({
    kind,
    minutes,
    from: 0,
    to: 1,
    title: kind,
    lead: true,
  });
  const jobs = Array.from({ length: devices }, (_, k): Job => {
    const pieces = [piece("hands", 2 + chance.below(4))];
    for (let more = 1 + chance.below(2); more > 0; more--)
      pieces.push(
        piece(chance.below(3) ? "alone" : "watched", 4 + chance.below(25)),
        piece("hands", 1 + chance.below(4)),
      );
    return {
      device: `d${k}`,
      // Known again by the step at which it ends, as pieces of a sheet are.
      pieces: pieces.map((each, step) => ({ ...each, from: step, to: step + 1 })),
      ways: ["any"],
      needsComputer: false,
      build: `b${chance.below(Math.ceil(devices / 12))}`,
      due: chance.below(5) === 0 ? days[chance.below(days.length)] : null,
      weight: 1,
    };
  });
  return {
    jobs,
    from: days[0],
    now: 0,
    evenings: days.map((day) => ({ day, from: "17:00", to: "22:00" })),
    volunteers: Array.from({ length: volunteers }, (_, k) => ({
      name: `v${k}`,
      ways: [],
      minds: 4 + (k % 3),
      days: [],
      away: [],
    })),
    benches: [{ name: "bench", host: "computer", places: 24, leads: 20, chargers: 20, cards: null, sticks: null }],
  };
}

/** Minutes until a minute in which the house is open: nights are no work. */
const openMinutes = ({ evenings, from }: Work, end: number) =>
  evenings.reduce((sum, { day, from: opens, to }) => {
    const begins = minuteAt(from, day, opens);
    return sum + Math.max(0, Math.min(end, minuteAt(from, day, to)) - begins);
  }, 0);

const PUBLISHED = [
  ...[shops.FT06, shops.FT10, shops.FT20, shops.TA01, shops.TA11, shops.TA31],
  ...[shops.FLOW_20_5, shops.FLOW_20_20, shops.FLOW_50_20, shops.FLOW_100_5],
  ...[shops.FT10_DUE_SOON, shops.FT10_DUE, shops.FT10_DUE_LATE],
];

/** Timetables: published job shops against their optima, and evenings of the size that a house has. */
export async function measureSchedule(): Promise<void> {
  for (const { name, best, instance } of PUBLISHED) {
    const begun = now();
    const { problem } = problemOf(instance);
    const { cost, bound, gap } = await solveOnThreads(problem, { milliseconds: 10_000, seed: 1 });
    console.log(
      `${name}: ${cost.aim} (published ${best}, ${(100 * (cost.aim / best - 1)).toFixed(2)} % longer, goal 1 %), bound ${bound}${gap === 0 ? ", proven" : ""}, ${((now() - begun) / 1000).toFixed(1)} s`,
    );
  }
  for (const [devices, volunteers, evenings, seconds] of [
    [200, 4, 6, 5],
    [1000, 12, 10, 30],
  ] as const) {
    const work = makeWork(devices, volunteers, evenings);
    const begun = now();
    const evening = eveningProblem(work);
    const progress = solve(evening.problem, { now, milliseconds: seconds * 1000, both: true });
    const { pieces, end, soonest, tardiness, tardinessBound, noRoom } = plannedOf(work, evening, progress);
    const first = now();
    // One device less: people have this timetable, and learn another one only where they must.
    const again = eveningProblem({ ...work, jobs: work.jobs.slice(1), had: pieces });
    const next = solving(again.problem, { now, order: again.order ?? undefined }).next().value;
    const replanned = now();
    console.log(
      `evenings ${devices} devices, ${volunteers} volunteers, ${evenings} evenings: done at minute ${end}, not before ${soonest} (gap ${((100 * (end - soonest)) / end).toFixed(1)} % of all minutes, ${((100 * (end - soonest)) / openMinutes(work, end)).toFixed(1)} % of those in which it is open, goal 3 %), ${tardiness} min late (at least ${tardinessBound}), ${noRoom.length} without room, ${((first - begun) / 1000).toFixed(1)} s (goal ${seconds}); again after one event ${((replanned - first) / 1000).toFixed(2)} s (goal 1), ${changesIn(again.problem, next.timetable)} of ${pieces.length} pieces in other hands or at another time`,
    );
  }
}
