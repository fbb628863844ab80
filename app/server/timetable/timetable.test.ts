import { now } from "~/app/server/http/clock";
import { restsNow } from "~/app/server/jobs/beside";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { type DraftState, timetables } from "~/store/drafts";
import { readOpening, saveOpening } from "~/store/evenings";
import { followTimetable, isDue, isOnTheMove, type KeptTimetable } from "./timetable";

const PLANNED = { day: "2026-11-26", pieces: [], fetches: [], noRoom: [] } as unknown as KeptTimetable["planned"];

type Pieces = Parameters<typeof isDue>[0]["pieces"];

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

test("what broke off with the lane is worked out anew, what broke off over its own work or was stopped is not", () => {
  const store = demoCopy();
  const { opening, version } = readOpening(store);
  // With no evening nothing can be worked out: that it was tried is said.
  saveOpening(store, { ...opening, hours: [] }, version, { at: now(store).toISOString(), by: "Odile" });
  const later = (state: DraftState, says = "") => {
    begunNow(store, state, { says });
    return followTimetable(store, new Date(now(store).getTime() + 3000))?.says;
  };
  begunNow(store, "running");
  timetables.lose(store);
  expect(timetables.read(store)?.state).toBe("failed");
  expect(isOnTheMove(followTimetable(store, now(store)))).toBe(true);
  expect(followTimetable(store, new Date(now(store).getTime() + 3000))?.says).toMatch(/^No evening/);
  expect(later("stopped")).toBe("");
  expect(later("done")).toBe("");
  expect(later("failed", "It broke off")).toBe("It broke off");
});

test("an evening whose work nobody did lags behind also when it is over, and one that is to come does not", () => {
  const piece = (kind: "hands" | "wait", from: number) => [{ kind, from, to: from + 9 }] as unknown as Pieces;
  const due = (at: string, pieces: Pieces) => isDue({ day: "2026-11-26", pieces }, new Date(at));
  const at18 = piece("hands", 18 * 60);
  expect(due("2026-11-26T17:00:00", at18)).toBe(false);
  expect(due("2026-11-26T17:40:00", at18)).toBe(true);
  expect(due("2026-11-27T08:00:00", at18)).toBe(true);
  expect(due("2026-11-27T08:00:00", piece("wait", 18 * 60))).toBe(false);
});
