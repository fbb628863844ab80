import { addDays, parseISO } from "date-fns";
import { dayOf } from "~/app/server/http/clock";
import { restsNow, type Standing, standingWork, workBeside } from "~/app/server/jobs/beside";
import type { GroupOdds } from "~/core/schedule/odds";
import type { Planned } from "~/core/schedule/planned";
import type { Hand, Store } from "~/store/database";
import { timetables } from "~/store/drafts";
import type { GroupRow } from "~/store/evenings";
import { minuteOf } from "./times";
import type { TimetableWord, TimetableWork } from "./timetableWorker";
import { gatherWork } from "./work";

/** How long it is looked for something better: at leisure, and while people wait at the bench. */
const SEARCH_MS = 5000;
const FOLLOW_MS = 900;

/** The timetable as it is kept. */
export interface KeptTimetable {
  readonly planned: Planned | null;
  readonly odds: readonly GroupOdds[];
  /** Day from which the odds count theirs, YYYY-MM-DD; null where there are none. */
  readonly playedFrom: string | null;
  /** What was left out before anything was planned, with why. */
  readonly left: Planned["left"];
  readonly groupOf: Readonly<Record<string, string>>;
  readonly rests: string;
  readonly says: string;
}
export type StandingTimetable = Standing<KeptTimetable>;

/** The timetable that stands; null when none was ever worked out. */
export const standingTimetable = (store: Store): StandingTimetable | null =>
  standingWork<KeptTimetable>(store, timetables);

/** A group's odds by it, with the day they count from; null where it was played through for another day of theirs, or never. */
export function oddsBy(
  timetable: StandingTimetable | null,
  { id, by }: Pick<GroupRow, "id" | "by">,
): { readonly odds: GroupOdds; readonly from: Date } | null {
  const odds = timetable?.odds.find(({ group }) => group === String(id));
  if (!odds || !timetable?.playedFrom) return null;
  const from = parseISO(timetable.playedFrom);
  return dayOf(addDays(from, odds.by)) === by ? { odds, from } : null;
}

/**
 * Begins to work the timetable out, beside the pages. It begins with the one that people have and moves what has to move.
 *
 * @returns what is wrong in words, or null
 */
export function startTimetable(store: Store, hand: Hand, milliseconds = SEARCH_MS): string | null {
  const had = standingTimetable(store);
  const { work, left, groupOf, divided, groups } = gatherWork(store, new Date(hand.at), had?.planned ?? null);
  if (work.evenings.length === 0) return "No evening is held: write down the opening hours at Evenings";
  if (work.volunteers.length === 0) return "Nobody comes: write down the volunteers at Evenings";
  if (work.benches.length === 0) return "There is no bench: write one down at Benches";
  // Where people go by a timetable, one with nothing in it tells them that all is done, and its odds are played anew.
  if (work.jobs.length === 0 && !had?.planned)
    return left.length
      ? `Nothing can be begun yet: ${left[0].device}: ${left[0].says}${left.length > 1 ? `, and ${left.length - 1} more` : ""}`
      : "There is nothing to do: accept a division, or a way at Match";
  // Until there is a better one, people go on by the one they have.
  const first: KeptTimetable = {
    planned: had?.planned ?? null,
    odds: had?.odds ?? [],
    playedFrom: had?.playedFrom ?? null,
    left,
    groupOf,
    rests: restsNow(store),
    says: "",
  };
  const version = timetables.begin(store, "running", JSON.stringify(first), hand);
  const data: TimetableWork = { work, divided, groups, milliseconds, seed: version };
  workBeside<KeptTimetable, TimetableWord>({
    store,
    drafts: timetables,
    version,
    worker: "timetableWorker.mjs",
    data,
    first,
    take: (doc, { planned, odds, done }) => ({
      doc: { ...doc, planned, ...(odds.length > 0 || done ? { odds, playedFrom: planned.day } : {}) },
      done,
    }),
    broken: (doc) => ({ ...doc, says: "The timetable broke off. What was found so far stands; work it out again" }),
  });
  return null;
}

/** Who is named where nobody asked for it. */
const ITSELF = "the lane itself";

/** Work that lags behind is looked at again so often, though nobody wrote anything. */
const LAGS_MS = 15 * 60_000;
/** Not oftener than so: a burst of writing is followed once. */
const CALM_MS = 2_000;

/**
 * Lets the timetable follow what was written since, and the clock on an evening. Nobody has to press anything: whoever
 * looks at it sees it follow. What was never asked for, or was stopped by somebody, stays as it is.
 *
 * @returns the timetable that stands
 */
export function followTimetable(store: Store, at: Date): StandingTimetable | null {
  const standing = standingTimetable(store);
  if (!standing?.planned || standing.state === "running" || standing.state === "stopped") return standing;
  const age = at.getTime() - Date.parse(standing.at);
  if (Math.abs(age) < CALM_MS) return standing;
  const lags = age > LAGS_MS && isDue(standing.planned, at);
  if (!standing.stale && !lags && !isLost(standing)) return standing;
  const wrong = startTimetable(store, { at: at.toISOString(), by: ITSELF }, FOLLOW_MS);
  return wrong ? { ...standing, says: wrong } : standingTimetable(store);
}

/** It broke off with the process that worked at it, not over what it was about: then it says so. */
const isLost = ({ state, says }: StandingTimetable) => state === "failed" && says === "";

/** Whether it moves by itself: it is being worked out, or will be in a moment, once it has been calm for long enough. */
export function isOnTheMove(standing: StandingTimetable | null): boolean {
  if (!standing) return false;
  const { state, planned, stale, says } = standing;
  return state === "running" || (planned !== null && says === "" && (state === "done" ? stale : isLost(standing)));
}

/** Why a timetable does not know of what was written since, in words; null where it does, or will in a moment. */
export function whatItMisses(standing: StandingTimetable): string | null {
  const { state, stale, says } = standing;
  if (isOnTheMove(standing)) return null;
  if (state === "failed") return says;
  if (!stale) return null;
  return says
    ? `The timetable can't follow what was written since: ${says}`
    : "The timetable was stopped, and does not know of what was written since";
}

/**
 * Whether anything is planned for about now, or was before and nobody did it: what somebody did stands in no timetable any
 * more. Days that a maker lets pass are nobody's work.
 */
export function isDue({ day, pieces }: Pick<Planned, "day" | "pieces">, at: Date): boolean {
  const now = minuteOf(day, at);
  return pieces.some(({ kind, from }) => kind !== "wait" && from <= now + 30);
}
