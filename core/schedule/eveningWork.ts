import type { BenchFields } from "~/core/lane/bench";
import { Choices } from "./choices";
import { minutesOf } from "./clock";
import type { Evening } from "./hours";
import type { Carrier, Piece } from "./pieces";
import { endsOf, type PlannedPiece } from "./planned";
import { type Draft, makeProblem, type Problem, type Resource, type Told, type Window } from "./problem";
import { eveningsOf, mayDo, type Volunteer } from "./volunteer";

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
  /** Files that have to be fetched before it is begun, by their names in the work. */
  readonly files?: readonly string[];
  /** The first of its pieces is under way: since when, by whom (a charger: nobody), at which bench (null: nobody wrote that down). */
  readonly begun?: { readonly start: number; readonly volunteer: string; readonly bench: string | null } | null;
};

/** A piece whose hands, bench and time somebody chose. */
export type TimePin = {
  readonly device: string;
  /** Step of the sheet at which the piece ends; null for the look at the end. */
  readonly ends: number | null;
  readonly volunteer: string;
  readonly bench: string;
  /** Minute before which it does not begin. */
  readonly from: number;
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
  /** The timetable that people have, in minutes of this one's first day. */
  readonly had?: readonly PlannedPiece[];
  readonly pins?: readonly TimePin[];
  /** Files that are not at hand, with what the line takes for each, one after the other, day and night. */
  readonly fetches?: readonly Fetch[];
};

export type Fetch = { readonly file: string; readonly minutes: number };

/** What each task of the problem is: a piece of a device's work, its checkout (no piece), or a file that is fetched. */
export type TaskOf = {
  readonly device: string;
  readonly piece: Piece | null;
  readonly file?: string;
  /** For a checkout: the minute by which its group waits, and what that weighs. A pin may stand in its place in the problem. */
  readonly day?: { readonly due: number; readonly weight: number };
  /** Somebody said by whom and when. */
  readonly pinned?: true;
};
export type EveningProblem = {
  readonly problem: Problem;
  readonly tasks: readonly TaskOf[];
  /** Per task, per mode: who does it (null: nobody has to), and at which bench. */
  readonly who: readonly (readonly { readonly volunteer: string | null; readonly bench: string | null }[])[];
  /** What can't be planned, with why, in words. */
  readonly left: readonly { readonly device: string; readonly says: string }[];
  /** The order in which people have it already; null where they have nothing. */
  readonly order: Float64Array | null;
};

/** Looking a finished device over: version, radio, calls, camera. Common practice, no source. */
export const CHECKOUT_MINUTES = 8;

/**
 * Minutes that a device rather waits for the hands that began it than is handed over. Common practice, no source: in ninety
 * minutes hardly any device is handed over, and four people are done a quarter of an hour later (measured on 200 devices).
 */
const PATIENCE = 10;
/** The same for a device that nobody has begun, and those who were told that it is theirs. Common practice, no source. */
const TOLD_PATIENCE = 90;

/** What a pinned piece's lateness weighs against a group's day: who pins it knows why. */
const PIN_WEIGHT = 100;

/** A piece of a device is known again by the step at which it ends: its beginning moves as its steps are done. */
const keyOf = (device: string, ends: number | null) => `${device} ${ends ?? "end"}`;

/**
 * Minutes from the beginning of a day to a time of another one.
 *
 * @example minuteAt("2026-12-01", "2026-12-02", "17:30") // 2490
 */
export const minuteAt = (from: string, day: string, clock: string): number =>
  (Date.parse(`${day}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 60_000 + minutesOf(clock);

/**
 * The evenings' work as a problem for the engine: every volunteer has hands (one piece at a time) and minds several devices
 * at once; every bench has places and leads; all of it only while the house is open.
 *
 * @example eveningProblem({ jobs: [], volunteers, benches, evenings, from: "2026-11-20", now: 0 }).tasks // [] …
 */
export function eveningProblem({
  jobs,
  volunteers,
  benches,
  evenings,
  from,
  now,
  had = [],
  pins = [],
  fetches = [],
}: Work): EveningProblem {
  const before = new Map(had.map((piece) => [keyOf(piece.device, endsOf(piece)), piece]));
  const pinned = new Map(pins.map((pin) => [keyOf(pin.device, pin.ends), pin]));
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
  const places = benches.map((bench) => ({
    ...bench,
    place: add(bench.places, open),
    lead: add(bench.leads, open),
    charger: add(bench.chargers, open),
    // How many there are is counted where somebody wrote it down.
    card: bench.cards === null ? [] : [add(bench.cards, open)],
    stick: bench.sticks === null ? [] : [add(bench.sticks, open)],
  }));

  const drafts: { -readonly [K in keyof Draft["tasks"][number]]: Draft["tasks"][number][K] }[] = [];
  const tasks: TaskOf[] = [];
  const who: EveningProblem["who"][number][] = [];
  const left: EveningProblem["left"][number][] = [];
  /** Task of each file that is fetched, in the order in which devices want them. */
  const fetched = new Map<string, number>();
  const line = fetches.length > 0 ? add(1, null) : -1;
  const minutesOfFile = new Map(fetches.map(({ file, minutes }) => [file, minutes]));
  const fetch = (file: string): number[] => {
    const minutes = minutesOfFile.get(file);
    if (minutes === undefined) return [];
    let task = fetched.get(file);
    if (task === undefined) {
      task = drafts.push({ minutes, modes: [{ resources: [line], amounts: [1] }], before: [], release: now }) - 1;
      tasks.push({ device: "", piece: null, file });
      who.push([{ volunteer: null, bench: null }]);
      fetched.set(file, task);
    }
    return [task];
  };
  const choices = new Choices();
  /** Task at the end of each build's pilot. */
  const pilots = new Map<string, number>();
  const soonest = [...jobs].sort((a, b) => (a.due ?? "9999").localeCompare(b.due ?? "9999"));
  for (const job of soonest) {
    const able = people.filter((person) => mayDo(person, job.ways));
    const carriers = new Set(job.pieces.flatMap(({ carrier }) => carrier ?? []));
    const hosts = places.filter(({ host }) => !job.needsComputer || host !== "none");
    const suit = hosts.filter((bench) => [...carriers].every((carrier) => bench[`${carrier}s`] !== 0));
    const short = shortage(job, able, { hosts, suit, carriers }, open);
    if (short) {
      left.push({ device: job.device, says: short });
      continue;
    }
    const due = job.due === null ? undefined : minuteAt(from, job.due, "23:59");
    const pilot = pilots.get(job.build);
    /** What nobody touches it before: its build's pilot, and its files. A charger waits for neither. */
    let waitsFor = [...(pilot === undefined ? [] : [pilot]), ...(job.files ?? []).flatMap(fetch)];
    let last: number[] = [];
    const chargers = suit.filter((bench) => bench.chargers > 0);
    // Where no charger is written down, charging is nothing that could be planned.
    const pieces: (Piece | null)[] = [
      ...job.pieces.filter(({ kind }) => kind !== "charge" || chargers.length > 0),
      null,
    ];
    /** The piece before this one that somebody did. */
    let begun = -1;
    for (const [place, piece] of pieces.entries()) {
      const kind = piece?.kind ?? "hands";
      const byHands = kind !== "wait" && kind !== "charge";
      const { modes, doers } = choices.of(piece, able, suit);
      const minutes = piece?.minutes ?? CHECKOUT_MINUTES;
      const pin = pinned.get(keyOf(job.device, piece?.to ?? null));
      const fixed = pin ? doers.findIndex((one) => one.volunteer === pin.volunteer && one.bench === pin.bench) : -1;
      const stands = place === 0 && job.begun ? begunAs(job.begun, doers, kind) : null;
      const day = piece === null && due !== undefined ? { due, weight: job.weight } : null;
      const held =
        pin !== undefined && fixed >= 0 && !stands ? { fixed, due: pin.from + minutes, weight: PIN_WEIGHT } : null;
      drafts.push({
        // What is under way and should be over by now is over soon.
        minutes: stands ? Math.max(minutes, now + 1 - stands.start) : minutes,
        modes,
        // What is under way waited for nothing, whatever was planned.
        before: stands || kind === "charge" ? last : [...last, ...waitsFor],
        release: pin && fixed >= 0 ? Math.max(now, pin.from) : now,
        weight: job.weight,
        ...day,
        ...(begun >= 0 && byHands ? { like: begun } : {}),
        ...(stands ? { begun: stands } : {}),
        ...held,
      });
      if (byHands) begun = drafts.length - 1;
      tasks.push({ device: job.device, piece, ...(day ? { day } : {}), ...(held ? { pinned: true } : {}) });
      who.push(doers);
      last = [drafts.length - 1];
      if (kind !== "charge") waitsFor = [];
    }
    if (pilot === undefined) pilots.set(job.build, drafts.length - 1);
  }
  const as = tasks.map(({ device, piece }) => before.get(keyOf(device, piece?.to ?? null)));
  const hands = new Uint8Array(resources.length);
  for (const person of people) hands[person.hands] = 1;
  const told: Told = {
    hands,
    patience: TOLD_PATIENCE,
    modes: Int32Array.from(as, (was, task) =>
      was ? who[task].findIndex(({ volunteer, bench }) => volunteer === was.volunteer && bench === was.bench) : -1,
    ),
    starts: Float64Array.from(as, (was) => was?.from ?? Number.NaN),
  };
  return {
    problem: makeProblem({ tasks: drafts, resources, aim: "tardiness", patience: PATIENCE, told }),
    tasks,
    who,
    left,
    order: had.length > 0 ? orderOf(told.starts, drafts) : null,
  };
}

/** Further than any minute: what is new comes so far behind what people have, what a pin waits for so far before it. */
const FAR = 1e9;

/** The order that people have; a pin is placed first, with all that it waits for: only so is its time still free. */
function orderOf(starts: Float64Array, drafts: Draft["tasks"]): Float64Array {
  const order = starts.map((start, task) => (Number.isNaN(start) ? FAR + task : start));
  // What is in no timetable of people, as a file that is fetched, comes before the first that waits for it.
  const ahead = (task: number) => {
    for (const earlier of drafts[task].before) {
      if (order[earlier] <= order[task]) continue;
      order[earlier] = order[task];
      ahead(earlier);
    }
  };
  for (const task of drafts.keys()) ahead(task);
  const first = (task: number) => {
    if (order[task] < 0) return;
    order[task] -= 2 * FAR;
    for (const earlier of drafts[task].before) first(earlier);
  };
  drafts.forEach(({ fixed }, task) => {
    if (fixed !== undefined) first(task);
  });
  return order;
}

/** The mode in which a piece is under way; null where whoever has it is no volunteer of the house any more. */
function begunAs(
  { start, volunteer, bench }: NonNullable<Job["begun"]>,
  doers: readonly { readonly volunteer: string | null; readonly bench: string | null }[],
  kind: Piece["kind"],
): { readonly start: number; readonly mode: number } | null {
  if (kind === "wait") return { start, mode: 0 };
  if (kind === "charge")
    return {
      start,
      mode: Math.max(
        0,
        doers.findIndex((one) => one.bench === bench),
      ),
    };
  const own = doers.flatMap((one, mode) => (one.volunteer === volunteer ? [mode] : []));
  const mode = own.find((m) => doers[m].bench === bench) ?? own[0];
  return mode === undefined ? null : { start, mode };
}

/** Why nothing can be planned for a device, with what would make it possible; null when something can. */
function shortage(
  { ways, needsComputer, pieces }: Job,
  able: readonly Volunteer[],
  {
    hosts,
    suit,
    carriers,
  }: {
    readonly hosts: readonly BenchFields[];
    readonly suit: readonly BenchFields[];
    readonly carriers: ReadonlySet<Carrier>;
  },
  open: readonly Window[],
): string | null {
  if (open.length === 0) return "no evening is held any more: write down the opening hours";
  if (able.length === 0) return `nobody may do all of ${ways.join(", ")}: show somebody, or write down who may`;
  if (hosts.length > 0 && suit.length === 0)
    return `it needs a ${[...carriers].join(" and a ")}, and no bench that suits has one`;
  if (suit.length === 0)
    return needsComputer ? "it needs a computer, and no open bench has one" : "no bench is open: write down one";
  if (pieces.some(({ lead }) => lead) && suit.every(({ leads }) => leads === 0))
    return "it needs a lead, and no bench that suits has one";
  const longest = Math.max(...open.map(([opens, closes]) => closes - opens));
  const piece = pieces.find(({ kind, minutes }) => kind !== "wait" && minutes > longest);
  if (piece) return `“${piece.title}” takes ${piece.minutes} min on end, and no evening is longer than ${longest} min`;
  return null;
}
