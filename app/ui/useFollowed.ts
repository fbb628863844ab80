import { useWatch } from "./useWatch";

/** Looks again now and then: what can be left alone gets due, and work lags behind, without anybody writing anything. */
const LOOK_MS = 20_000;

/**
 * Lets a page follow the timetable. That it has been worked out is written nowhere that would be news.
 *
 * @param moves it is being worked out, or will be in a moment
 */
export function useFollowed(moves: boolean) {
  useWatch(moves);
  useWatch(true, LOOK_MS);
}
