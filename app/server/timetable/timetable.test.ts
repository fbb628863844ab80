import { now } from "~/app/server/http/clock";
import { restsNow } from "~/app/server/jobs/beside";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { type DraftState, timetables } from "~/store/drafts";
import { followTimetable, isOnTheMove, type KeptTimetable } from "./timetable";

const PLANNED = { day: "2026-11-26", pieces: [], fetches: [], noRoom: [] } as unknown as KeptTimetable["planned"];

/** A timetable that was begun just now: so soon it is not followed again. */
function begunNow(store: Store, state: DraftState, parts: Partial<KeptTimetable> = {}) {
  const doc = { planned: PLANNED, odds: [], left: [], groupOf: {}, rests: restsNow(store), says: "", ...parts };
  const at = now(store);
  timetables.begin(store, state, JSON.stringify(doc), { at: at.toISOString(), by: "Odile" });
  const standing = followTimetable(store, new Date(at.getTime() + 1000));
  if (!standing) throw new Error("there is a timetable");
  return standing;
}

test("what was written while it was worked out moves it in a moment: whoever looks at it goes on looking", () => {
  const store = demoCopy();
  expect(isOnTheMove(begunNow(store, "done"))).toBe(false);
  const before = begunNow(store, "done", { rests: "what was known before" });
  expect(before).toMatchObject({ state: "done", stale: true });
  expect(isOnTheMove(before)).toBe(true);
  expect(isOnTheMove(begunNow(store, "running"))).toBe(true);
});

test("what was stopped by somebody, never came about or can't be stays as it is", () => {
  const store = demoCopy();
  const rests = "what was known before";
  for (const standing of [
    begunNow(store, "stopped", { rests }),
    begunNow(store, "done", { rests, planned: null }),
    begunNow(store, "done", { rests, says: "No evening is held" }),
  ])
    expect(isOnTheMove(standing)).toBe(false);
});
