import { differenceInCalendarDays } from "date-fns";
import type { StandingTimetable } from "~/app/server/timetable/timetable";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { addDivision, standingPins } from "~/store/divisions";
import { changeGroup, listGroups } from "~/store/evenings";
import { letterTo } from "./letter";
import { calibration, givePromise, type Offer, offersFor, promisesTo, toComeFor, withdrawPromise } from "./promises";
import { divisionQuestion } from "./question";
import { dividedForAnotherDay } from "./standing";

const hand = { by: "test", at: "2026-11-25T10:00:00.000Z" };
const at = new Date(hand.at);
const TABLE = "Welcome table at Saint Osk hall";

const groupOf = (store: Store) => {
  const group = listGroups(store).find(({ name }) => name === TABLE);
  if (!group) throw new Error("no such group");
  return group;
};
/** SF-46 was handed over on 24 November; the others still are to be done. */
const GIVEN = ["SF-46", "SF-01", "SF-10", "TH-001", "TH-002", "SF-56", "SF-54", "SF-60", "SF-09"];

/** @param day for which it was divided; the group's own where none is given */
function divided(day?: string) {
  const store = demoCopy();
  const group = groupOf(store);
  const devices = GIVEN.map((tag) => {
    const standing = findStanding(store, tag);
    if (!standing) throw new Error(tag);
    return { device: standing.id, grp: group.id, way: "any", chance: 0.9, was_need: standing.need };
  });
  addDivision(store, JSON.stringify({ days: { [group.id]: day ?? group.by } }), devices, hand);
  return { store, group };
}

/** A timetable with one and two of the group's devices by its day, nine times in ten. */
const played = ({ id, by }: ReturnType<typeof groupOf>, playedFrom: string) => {
  const odds = [1, 2].map((count) => ({ count, chance: 0.9, sure: 3 }));
  const days = differenceInCalendarDays(by, playedFrom);
  return { playedFrom, odds: [{ group: String(id), by: days, odds, costs: [] }] } as unknown as StandingTimetable;
};
const told = (store: Store, id: number) =>
  promisesTo(store, id, at).map(({ count, outcome, came }) => [count, outcome, came]);

test("what was handed over counts: it is asked for no more, and the odds of all have it", () => {
  const { store, group } = divided();
  const asked = divisionQuestion(store, at).question.groups.find(({ id }) => id === String(group.id));
  expect(asked).toMatchObject({ wanted: group.wanted - 1, least: group.least - 1 });
  const none = divisionQuestion(demoCopy(), at).question.groups.find(({ id }) => id === String(group.id));
  expect(none).toMatchObject({ wanted: group.wanted, least: group.least });
  // Eight more are to come, each with nine chances in ten: seven of them are enough for eight in all.
  const eight = offersFor(store, group).offers.find(({ count }) => count === 8);
  expect(eight?.chance).toBeCloseTo(0.9 ** 8 + 8 * 0.9 ** 7 * 0.1, 9);
});

test("after their day only what they have is sure, of all that is divided to them and of each, and no letter says else", () => {
  const { store, group } = divided();
  const chances = (offers: readonly Offer[]) => offers.slice(0, 2).map(({ count, chance }) => [count, chance]);
  const ofEach = (day: typeof group) => new Set(toComeFor(store, day).map(({ chance }) => chance));
  const letter = (day: typeof group) => letterTo(store, day, null, "Nell Ashby", "en");
  const over = { ...group, by: "2026-11-20", least: 1 };
  expect(chances(offersFor(store, over).offers)).toEqual([
    [1, 1],
    [2, 0],
  ]);
  expect(ofEach(group)).toEqual(new Set([0.9]));
  expect(ofEach(over)).toEqual(new Set([0]));
  expect(letter(group)).toMatchObject({ subject: expect.stringContaining(`${group.wanted}`) });
  expect(letter(over)).toEqual({ nothing: expect.stringMatching(/day is over/) });
  // A timetable that was worked out before knows nothing of it.
  expect(chances(offersFor(store, group, played(group, "2026-11-18")).offers)).toEqual([
    [1, 0.9],
    [2, 0.9],
  ]);
  expect(chances(offersFor(store, over, played(over, "2026-11-18")).offers)).toEqual([
    [1, 0.9],
    [2, 0],
  ]);
});

test("of another day than they were divided for nothing is known, until a timetable was played through for it", () => {
  const { store, group } = divided();
  expect(givePromise(store, group.id, 8, hand)).toBeNull();
  const { id, version } = group;
  const later = { ...strip(group), by: "2026-12-30" };
  expect(changeGroup(store, { id, version, closed: false }, later, hand)).toBeNull();
  const moved = groupOf(store);
  expect(dividedForAnotherDay(store, moved)).toBe(group.by);
  expect(toComeFor(store, moved).every(({ chance }) => chance === null)).toBe(true);
  expect(offersFor(store, moved).offers).toEqual([]);
  // What was promised stands as it was told.
  const [promise] = promisesTo(store, id, at);
  expect(letterTo(store, moved, promise, "Nell Ashby", "en")).toMatchObject({
    subject: expect.stringMatching(/^8 of .* 18 December 2026$/),
  });
  expect(withdrawPromise(store, id, promise.id, "told by phone", hand)).toBeNull();
  expect(letterTo(store, moved, null, "Nell Ashby", "en")).toEqual({ nothing: expect.stringMatching(/another day/) });
  expect(givePromise(store, id, 8, hand)).toMatch(/another day/);
  expect(offersFor(store, moved, played(moved, "2026-11-25")).offers).not.toEqual([]);
  expect(offersFor(store, moved, played(group, "2026-11-25")).offers).toEqual([]);
});

test("a promise is kept with its chance, one at a time, and holds its devices in every division", () => {
  const { store, group } = divided();
  expect(givePromise(store, group.id, 8, hand)).toBeNull();
  expect(givePromise(store, group.id, 9, hand)).toMatch(/stands already/);
  expect(told(store, group.id)).toEqual([[8, "open", 1]]);
  const { question, promised } = divisionQuestion(store, at);
  expect([...promised].sort()).toEqual(GIVEN.filter((tag) => tag !== "SF-46").sort());
  expect(question.pins.filter(({ kind }) => kind === "there").map(({ group: id }) => id)).toEqual(
    Array(GIVEN.length - 1).fill(String(group.id)),
  );
  expect(standingPins(store)).toEqual([]);
  expect(withdrawPromise(store, group.id, 1, " ", hand)).toMatch(/told/);
  expect(withdrawPromise(store, group.id + 1, 1, "told by phone", hand)).toMatch(/no such promise/);
  expect(withdrawPromise(store, group.id, 1, "told by phone", hand)).toBeNull();
  expect(withdrawPromise(store, group.id, 1, "told by phone", hand)).toMatch(/already/);
  expect(divisionQuestion(store, at).promised).toEqual([]);
  expect(calibration(store, at)).toMatchObject({ of: 1, kept: 0 });
});

test("what came of it is told by what was handed over, on its day; the score by Brier's rule", () => {
  const { store, group } = divided("2026-11-25");
  const soon = { ...group, by: "2026-11-25", wanted: 2, least: 1 };
  expect(changeGroup(store, { id: group.id, version: group.version, closed: false }, strip(soon), hand)).toBeNull();
  expect(givePromise(store, group.id, 1, hand)).toBeNull();
  // One came on the 24th already.
  expect(told(store, group.id)).toEqual([[1, "kept", 1]]);
  expect(givePromise(store, group.id, 2, hand)).toBeNull();
  const [, second] = promisesTo(store, group.id, at);
  const later = new Date("2026-11-26T09:00:00Z");
  expect(promisesTo(store, group.id, later).map(({ outcome }) => outcome)).toEqual(["kept", "broken"]);
  const [first] = promisesTo(store, group.id, later);
  const score = ((first.chance - 1) ** 2 + second.chance ** 2) / 2;
  expect(calibration(store, later)).toMatchObject({ of: 2, kept: 1, brier: expect.closeTo(score, 9) });
  expect(givePromise(store, group.id, 1, { ...hand, at: later.toISOString() })).toMatch(/day is over/);
});

test("nothing is promised on nothing, nor to those who wait no more", () => {
  const store = demoCopy();
  const group = groupOf(store);
  expect(givePromise(store, group.id, 8, hand)).toMatch(/Divide the devices first/);
  expect(changeGroup(store, { id: group.id, version: group.version, closed: true }, strip(group), hand)).toBeNull();
  expect(givePromise(store, group.id, 8, hand)).toMatch(/waits no more/);
});

function strip({ id: _, version: __, closed: ___, ...group }: ReturnType<typeof groupOf>) {
  return group;
}
