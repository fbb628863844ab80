import { now as houseNow } from "~/app/server/http/clock";
import { log } from "~/app/server/http/log";
import type { Store } from "~/store/database";
import { followTimetable } from "./timetable";

/** Seconds between two looks whether anything was written that moves the timetable. */
const LOOK_EVERY = 20;
let going = false;

/** Lets the timetable follow also while nobody looks at it, so that odds and evening stand when somebody does; begun by the first page. */
export function keepFollowing(store: Store) {
  if (going || process.env.UPSHIFT_KEEPER === "") return;
  going = true;
  setInterval(() => {
    try {
      followTimetable(store, houseNow(store));
    } catch (error) {
      log.error(error, "the timetable could not follow");
    }
  }, LOOK_EVERY * 1000).unref();
}
