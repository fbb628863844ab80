import type { BenchFields } from "~/core/lane/bench";
import { type Evening, minutesOf } from "./hours";
import type { Piece } from "./pieces";
import { type Draft, type Mode, makeProblem, type Problem, type Resource, type Window } from "./problem";
import { eveningsOf, type Volunteer } from "./volunteer";

/** A device with what is left to do on it. */
export type Job = {
  readonly device: string;
  readonly pieces: readonly Piece[];
  /** Ways of the house that it goes: whoever does it has to know all of them. */
  readonly ways: readonly string[];
  readonly needsComputer: boolean;
  /** Model and image: the first of a build is the pilot, the others wait for its end. */
  readonly build: string;
  /** Day by which it has to be done; null where nobody waits with a day. */
  readonly due: string | null;
  readonly weight: number;
};

export type Work = {
  readonly jobs: readonly Job[];
  readonly volunteers: readonly Volunteer[];
  readonly benches: readonly BenchFields[];
  readonly evenings: readonly Evening[];
  /** The day that minute 0 begins. */
  readonly from: string;
  /** Minute before which nothing can begin any more. */
  readonly now: number;
};

/** What each task of the problem is: a piece of a device's work, or its checkout. */
export type TaskOf = { readonly device: string; readonly piece: Piece | null };
export type EveningProblem = {
  readonly problem: Problem;
  readonly tasks: readonly TaskOf[];
  /** Per task, per mode: who does it (null: nobody has to), and at which bench. */
  readonly who: readonly (readonly { readonly volunteer: string | null; readonly bench: string | null }[])[];
  /** What can't be planned, with why, in words. */
  readonly left: readonly { readonly device: string; readonly says: string }[];
};

/** Looking a finished device over: version, radio, calls, camera. Common practice, no source. */
export const CHECKOUT_MINUTES = 8;

/** Minutes that a device rather waits for the hands it knows than is handed over. Common practice, no source. */
const PATIENCE = 90;

/** Minutes from the beginning of a day to a time of another one. */
export const minuteAt = (from: string, day: string, clock: string): number =>
  (Date.parse(`${day}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 60_000 + minutesOf(clock);

/**
 * The evenings' work as a problem for the engine: every volunteer has hands (one piece at a time) and minds several devices
 * at once; every bench has places and leads; all of it only while the house is open.
 */
export function eveningProblem({ jobs, volunteers, benches, evenings, from, now }: Work): EveningProblem {
  const windowsOf = (list: readonly Evening[]): Window[] =>
    list
      .map(({ day, from: opens, to }): Window => [Math.max(now, minuteAt(from, day, opens)), minuteAt(from, day, to)])
      .filter(([opens, closes]) => closes > opens);
  const resources: Resource[] = [];
  const add = (capacity: number, open: readonly Window[] | null) => resources.push({ capacity, open }) - 1;
  const open = windowsOf(evenings);
  const people = volunteers.map((volunteer) => {
    const comes = windowsOf(eveningsOf(volunteer, evenings));
    return { ...volunteer, hands: add(1, comes), mind: add(volunteer.minds, comes) };
  });
  const places = benches.map((bench) => ({ ...bench, place: add(bench.places, open), lead: add(bench.leads, open) }));

  const drafts: { -readonly [K in keyof Draft["tasks"][number]]: Draft["tasks"][number][K] }[] = [];
  const tasks: TaskOf[] = [];
  const who: EveningProblem["who"][number][] = [];
  const left: EveningProblem["left"][number][] = [];
  /** Task at the end of each build's pilot. */
  const pilots = new Map<string, number>();
  const soonest = [...jobs].sort((a, b) => (a.due ?? "9999").localeCompare(b.due ?? "9999"));
  for (const job of soonest) {
    const able = people.filter(({ ways }) => ways.length === 0 || job.ways.every((way) => ways.includes(way)));
    const suit = places.filter(({ host }) => !job.needsComputer || host !== "none");
    const short = shortage(job, able, suit, open);
    if (short) {
      left.push({ device: job.device, says: short });
      continue;
    }
    const due = job.due === null ? undefined : minuteAt(from, job.due, "23:59");
    const pilot = pilots.get(job.build);
    let before = pilot === undefined ? [] : [pilot];
    const pieces: (Piece | null)[] = [...job.pieces, null];
    /** The piece before this one that somebody did. */
    let begun = -1;
    for (const piece of pieces) {
      const kind = piece?.kind ?? "hands";
      const modes: Mode[] = [];
      const doers: { volunteer: string | null; bench: string | null }[] = [];
      if (kind === "wait") {
        modes.push({ resources: [], amounts: [] });
        doers.push({ volunteer: null, bench: null });
      }
      // The same pairs in the same order for every piece of a device: who began it can go on with it.
      else
        for (const volunteer of able)
          for (const bench of suit) {
            const held = [
              ...(kind === "hands" ? [volunteer.hands] : []),
              volunteer.mind,
              bench.place,
              ...(piece?.lead ? [bench.lead] : []),
            ];
            modes.push({ resources: held, amounts: held.map(() => 1) });
            doers.push({ volunteer: volunteer.name, bench: bench.name });
          }
      drafts.push({
        minutes: piece?.minutes ?? CHECKOUT_MINUTES,
        modes,
        before,
        release: now,
        ...(piece === null && due !== undefined ? { due } : {}),
        weight: job.weight,
        ...(begun >= 0 && kind !== "wait" ? { like: begun } : {}),
      });
      if (kind !== "wait") begun = drafts.length - 1;
      tasks.push({ device: job.device, piece });
      who.push(doers);
      before = [drafts.length - 1];
    }
    if (pilot === undefined) pilots.set(job.build, drafts.length - 1);
  }
  return { problem: makeProblem({ tasks: drafts, resources, aim: "tardiness", patience: PATIENCE }), tasks, who, left };
}

/** Why nothing can be planned for a device, with what would make it possible; null when something can. */
function shortage(
  { ways, needsComputer, pieces }: Job,
  able: readonly Volunteer[],
  suit: readonly BenchFields[],
  open: readonly Window[],
): string | null {
  if (open.length === 0) return "no evening is held any more: write down the opening hours";
  if (able.length === 0) return `nobody may do all of ${ways.join(", ")}: show somebody, or write down who may`;
  if (suit.length === 0)
    return needsComputer ? "it needs a computer, and no open bench has one" : "no bench is open: write down one";
  if (pieces.some(({ lead }) => lead) && suit.every(({ leads }) => leads === 0))
    return "it needs a lead, and no bench that suits has one";
  const longest = Math.max(...open.map(([opens, closes]) => closes - opens));
  const piece = pieces.find(({ kind, minutes }) => kind !== "wait" && minutes > longest);
  if (piece) return `“${piece.title}” takes ${piece.minutes} min on end, and no evening is longer than ${longest} min`;
  return null;
}
