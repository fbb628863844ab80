import { now as houseNow } from "~/app/server/http/clock";
import { keepDoing } from "~/app/server/jobs/keepDoing";
import type { Store } from "~/store/database";
import { followTimetable } from "./timetable";

/** Seconds between two looks whether anything was written that moves the timetable. */
const LOOK_EVERY = 20;

/** Lets the timetable follow also while nobody looks at it, so that odds and evening stand when somebody does. */
export const keepFollowing = (store: Store) =>
  keepDoing(LOOK_EVERY, "the timetable could not follow", () => followTimetable(store, houseNow(store)));
