import { differenceInCalendarDays } from "date-fns";
import { restsNow } from "~/app/server/jobs/beside";
import { type StandingTimetable, whatItMisses } from "~/app/server/timetable/timetable";
import { greedy } from "~/core/allocate/greedy";
import { scoresOf, sharesOf } from "~/core/allocate/verdict";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { addDivision } from "~/store/divisions";
import { divisionDrafts } from "~/store/drafts";
import { changeVolunteer, listGroups, openVolunteers } from "~/store/evenings";
import { acceptDivision } from "./act";
import { standingDraft } from "./draft";
import { letterTo } from "./letter";
import { givePromise, offersFor, promisesTo } from "./promises";
import { divisionQuestion } from "./question";
import { restsOn } from "./standing";

const hand = { by: "test", at: "2026-11-25T10:00:00.000Z" };

/** Divides without the solver, and accepts. @returns what was said of the question, and a group that got devices */
function accepted(store: Store) {
  const asked = divisionQuestion(store, new Date(hand.at));
  const { question, problems } = asked;
  const placed = greedy(question);
  const scores = scoresOf(question, placed);
  const division = { placed, scores, shares: sharesOf(question, placed), proven: [], finished: true, problems: [] };
  const doc = { asked, division, whatIf: [], moved: null, rests: restsNow(store), says: "" };
  divisionDrafts.begin(store, "done", JSON.stringify(doc), hand);
  expect(acceptDivision(store, standingDraft(store)?.version ?? 0, hand)).toBeNull();
  const group = listGroups(store).find(({ id }) => placed.some(({ option }) => option.group === String(id)));
  if (!group) throw new Error("nobody got anything");
  return { problems, group };
}

test("odds that count on nobody in particular say so as long as that division stands, and to whoever writes the letter", () => {
  const store = demoCopy();
  for (const { id, version, closed: _, ...fields } of openVolunteers(store))
    expect(changeVolunteer(store, { id, version, closed: true }, fields, hand)).toBeNull();
  const { problems, group } = accepted(store);
  expect(problems).toEqual([expect.stringMatching(/^Nobody is written down who comes: .* Evenings$/)]);
  const restsOn = [expect.stringMatching(/nobody was written down who comes: these odds take bench time as enough/)];
  expect(offersFor(store, group)).toMatchObject({ offers: expect.arrayContaining([expect.anything()]), restsOn });
  expect(letterTo(store, group, null, "Nell Ashby", "en")).toMatchObject({
    restsOn,
    body: expect.not.stringContaining("our volunteers"),
  });
  expect(givePromise(store, group.id, group.wanted, hand)).toBeNull();
  const [promised] = promisesTo(store, group.id, new Date(hand.at));
  expect(letterTo(store, group, promised, "Nell Ashby", "en")).toMatchObject({
    body: expect.not.stringContaining("our volunteers"),
  });
  // A timetable knows who comes.
  const by = differenceInCalendarDays(group.by, hand.at);
  const odds = [{ group: String(group.id), by, odds: [{ count: 1, chance: 0.9, sure: 3 }], costs: [] }];
  const played = { playedFrom: "2026-11-25", odds } as unknown as StandingTimetable;
  expect(offersFor(store, group, played).restsOn).toEqual([]);
  const behind = { ...played, state: "done", stale: true, says: "Nobody comes" } as StandingTimetable;
  expect(offersFor(store, group, behind).restsOn).toEqual([expect.stringMatching(/can't follow .*: Nobody comes$/)]);
  const told = { ...promised, sure: "2026-12-10" };
  expect(letterTo(store, group, told, "Nell Ashby", "en")).toMatchObject({
    restsOn: [],
    body: expect.stringContaining("our volunteers"),
  });
});

test("odds of a division say so once evenings are over on which they count", () => {
  const store = demoCopy();
  const { group } = accepted(store);
  expect(offersFor(store, group).restsOn).toEqual([]);
  // Evenings are held on Tuesday, 24 November, on Thursday, and on Tuesday, 1 December.
  const says = (at: string) => restsOn(store, new Date(at));
  expect(says("2026-11-26T19:00:00.000Z")).toEqual([]);
  expect(says("2026-11-26T21:00:00.000Z")).toEqual([expect.stringMatching(/an evening is over: .* count on it$/)]);
  expect(says("2026-12-02T09:00:00.000Z")).toEqual([expect.stringMatching(/2 evenings are over: .* count on them$/)]);
  addDivision(store, "{}", [], { by: "test", at: "2026-11-26T22:00:00.000Z" });
  expect(says("2026-11-27T09:00:00.000Z")).toEqual([]);
});

test("a timetable says what it misses, unless it is about to follow", () => {
  const misses = (standing: Partial<StandingTimetable>) =>
    whatItMisses({ planned: {}, state: "done", stale: true, says: "", ...standing } as StandingTimetable);
  expect(misses({})).toBeNull();
  expect(misses({ state: "running" })).toBeNull();
  expect(misses({ stale: false })).toBeNull();
  expect(misses({ says: "Nobody comes" })).toMatch(/can't follow .*: Nobody comes$/);
  expect(misses({ state: "stopped" })).toMatch(/was stopped/);
  expect(misses({ state: "stopped", stale: false })).toBeNull();
  expect(misses({ state: "failed", stale: false, says: "It broke off" })).toBe("It broke off");
  expect(misses({ state: "failed" })).toBeNull();
});
