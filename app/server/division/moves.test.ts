import { restsNow } from "~/app/server/jobs/beside";
import { greedy } from "~/core/allocate/greedy";
import { scoresOf, sharesOf } from "~/core/allocate/verdict";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { divisionDrafts } from "~/store/drafts";
import { acceptDivision } from "./act";
import { standingDraft } from "./draft";
import { moveDevice, undoMove } from "./moves";
import { letGo, pinsOf, shownPins } from "./pins";
import { divisionQuestion } from "./question";

const hand = { by: "test", at: "2026-11-25T10:00:00.000Z" };

/** What is asked of the demo, and a division of it without the solver: every copy has the same. */
const asked = divisionQuestion(demoCopy(), new Date(hand.at));
const { question } = asked;
const placed = greedy(question);
const scores = scoresOf(question, placed);
const DIVISION = { placed, scores, shares: sharesOf(question, placed), proven: [], finished: true, problems: [] };
/** A device that could go to either of two groups. */
const [TWO] = question.candidates.flatMap(({ device, options }) => {
  const groups = [...new Set(options.map(({ group }) => group))];
  const here = placed.find((each) => each.device === device)?.option.group;
  return groups.length > 1 && here ? [{ device, here, there: groups.find((id) => id !== here) ?? "" }] : [];
});

/** A division as a person looks at it. */
function divided(bench = question.bench) {
  const store = demoCopy();
  const tight = { ...asked, question: { ...question, bench } };
  const doc = { asked: tight, division: DIVISION, whatIf: [], moved: null, rests: restsNow(store), says: "" };
  divisionDrafts.begin(store, "done", JSON.stringify(doc), hand);
  return { store, ...TWO };
}
const draftOf = (store: Store) => {
  const draft = standingDraft(store);
  if (!draft?.division) throw new Error("nothing is divided");
  return { ...draft, division: draft.division };
};
const whereIs = (store: Store, tag: string) =>
  draftOf(store).division.placed.find(({ device }) => device === tag)?.option.group ?? null;
/** The pins of a device that stand, as a question has them. */
const pinsAt = (store: Store, tag: string) =>
  [...pinsOf(store, findStanding(store, tag)?.id ?? 0)].map(([grp, kind]) => ({
    device: tag,
    group: String(grp),
    kind,
  }));

test("what is put into the reserve is kept from all that wait, and what is put elsewhere after it only from where it was kept before", () => {
  const { store, device, here } = divided();
  expect(moveDevice(store, device, { is: "reserve" }, hand)).toBeNull();
  expect(whereIs(store, device)).toBeNull();
  expect(shownPins(store)).toMatchObject([{ device, there: null, reserve: true }]);
  expect(moveDevice(store, device, { is: "reserve" }, hand)).toBe(`${device} is there already`);
  expect(moveDevice(store, device, { is: "there", group: here }, hand)).toBeNull();
  expect(whereIs(store, device)).toBe(here);
  expect(pinsAt(store, device).filter(({ group }) => group === here)).toEqual([{ device, group: here, kind: "there" }]);
});

test("never there: a device is kept from a group in which it is, or might come to be", () => {
  const { store, device, here, there } = divided();
  expect(moveDevice(store, device, { is: "never", group: there }, hand)).toBeNull();
  expect(whereIs(store, device)).toBe(here);
  expect(draftOf(store).moved).toMatch(/never goes to .*: nothing else changes/);
  expect(moveDevice(store, device, { is: "never", group: here }, hand)).toBeNull();
  expect(whereIs(store, device)).toBeNull();
  expect(new Set(pinsAt(store, device).map(({ kind }) => kind))).toEqual(new Set(["never"]));
  // Nothing of it is stale, and what is supposed next goes by it.
  expect(draftOf(store).stale).toBe(false);
  const pins = expect.arrayContaining(pinsAt(store, device));
  expect(draftOf(store).asked.question.pins).toEqual(pins);
  expect(divisionQuestion(store, new Date(hand.at)).question.pins).toEqual(pins);
});

test("a device goes to one group: the pin to another one goes with the move", () => {
  const { store, device, here } = divided();
  expect(moveDevice(store, device, { is: "reserve" }, hand)).toBeNull();
  expect(moveDevice(store, device, { is: "there", group: here }, hand)).toBeNull();
  expect(moveDevice(store, device, { is: "never", group: here }, hand)).toBeNull();
  expect(pinsAt(store, device).filter(({ kind }) => kind === "there")).toEqual([]);
  expect(moveDevice(store, device, { is: "there", group: "999" }, hand)).toMatch(/does not wait here any more/);
});

test("moves are undone one by one, the last one first, with their pins", () => {
  const { store, device, here } = divided();
  const before = draftOf(store);
  expect(moveDevice(store, device, { is: "never", group: here }, hand)).toBeNull();
  const between = draftOf(store);
  expect(moveDevice(store, device, { is: "reserve" }, hand)).toBeNull();
  expect(undoMove(store, before.version, hand)).toMatch(/moved meanwhile/);
  expect(undoMove(store, draftOf(store).version, hand)).toBeNull();
  expect(pinsAt(store, device)).toEqual([{ device, group: here, kind: "never" }]);
  expect(draftOf(store).division).toEqual(between.division);
  expect(undoMove(store, draftOf(store).version, hand)).toBeNull();
  const { division, version } = draftOf(store);
  expect(pinsAt(store, device)).toEqual([]);
  expect(division.scores).toEqual(expect.objectContaining({ builds: before.division.scores.builds }));
  expect(new Set(division.placed.map((each) => JSON.stringify(each)))).toEqual(
    new Set(before.division.placed.map((each) => JSON.stringify(each))),
  );
  expect(undoMove(store, version, hand)).toMatch(/Nothing was moved/);
});

test("a move makes nothing fresh that was stale, and what is let go makes it stale", () => {
  const { store, device } = divided();
  expect(moveDevice(store, device, { is: "reserve" }, hand)).toBeNull();
  expect(letGo(store, device, hand)).toBeNull();
  expect(letGo(store, device, hand)).toMatch(/pinned nowhere/);
  expect(shownPins(store)).toEqual([]);
  expect(draftOf(store).stale).toBe(true);
  expect(moveDevice(store, device, { is: "reserve" }, hand)).toBeNull();
  expect(acceptDivision(store, draftOf(store).version, hand)).toMatch(/Divide again/);
});

test("a move for which the bench has no time is made, and says by how much", () => {
  const { store, device, there } = divided([{ day: "2026-12-18", minutes: 0 }]);
  expect(moveDevice(store, device, { is: "there", group: there }, hand)).toBeNull();
  expect(draftOf(store).moved).toMatch(/the evenings until 18 Dec 2026 have \d+ min too few of hands$/);
  const { store: other } = divided();
  expect(moveDevice(other, device, { is: "there", group: there }, hand)).toBeNull();
  expect(draftOf(other).moved).not.toMatch(/too few/);
});
