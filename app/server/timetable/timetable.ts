import { restsNow, type Standing, standingWork, workBeside } from "~/app/server/jobs/beside";
import type { GroupOdds } from "~/core/schedule/odds";
import type { Planned } from "~/core/schedule/planned";
import type { Hand, Store } from "~/store/database";
import { timetables } from "~/store/drafts";
import type { TimetableWord, TimetableWork } from "./timetableWorker";
import { gatherWork } from "./work";

const SEARCH_MS = 5000;

/** The timetable as it is kept. */
export interface KeptTimetable {
  readonly planned: Planned | null;
  readonly odds: readonly GroupOdds[];
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

/** Begins to work the timetable out, beside the pages. @returns what is wrong in words, or null */
export function startTimetable(store: Store, hand: Hand): string | null {
  const { work, left, groupOf, divided, groups } = gatherWork(store, new Date(hand.at));
  if (work.evenings.length === 0) return "No evening is held: write down the opening hours at Evenings";
  if (work.volunteers.length === 0) return "Nobody comes: write down the volunteers at Evenings";
  if (work.benches.length === 0) return "There is no bench: write one down at Benches";
  if (work.jobs.length === 0)
    return left.length
      ? `Nothing can be begun yet: ${left[0].device}: ${left[0].says}${left.length > 1 ? `, and ${left.length - 1} more` : ""}`
      : "There is nothing to do: accept a division, or a way at Match";
  const first: KeptTimetable = { planned: null, odds: [], left, groupOf, rests: restsNow(store), says: "" };
  const version = timetables.begin(store, "running", JSON.stringify(first), hand);
  const data: TimetableWork = { work, divided, groups, milliseconds: SEARCH_MS, seed: version };
  workBeside<KeptTimetable, TimetableWord>({
    store,
    drafts: timetables,
    version,
    worker: "timetableWorker.mjs",
    data,
    first,
    take: (doc, { planned, odds, done }) => ({ doc: { ...doc, planned, odds }, done }),
    broken: (doc) => ({ ...doc, says: "The timetable broke off. What was found so far stands; work it out again" }),
  });
  return null;
}
