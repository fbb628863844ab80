import loadHighs from "highs";
import { placedDevices } from "~/app/server/planning/lane";
import { divide } from "~/core/allocate/divide";
import { CHECKOUT_MINUTES } from "~/core/schedule/eveningWork";
import { eveningsBetween, lasts } from "~/core/schedule/hours";
import { eveningsOf } from "~/core/schedule/volunteer";
import { WAYS } from "~/core/ways/registry";
import { demoCopy } from "~/demo/demoCopy";
import { changeBench, openBenches } from "~/store/benches";
import { changeGroup, changeVolunteer, listGroups, listVolunteers, readOpening, saveOpening } from "~/store/evenings";
import { divisionQuestion } from "./question";

const hand = { by: "test", at: "2026-11-25T10:00:00.000Z" };
const at = new Date(hand.at);

test("until each group's day there are the hands of those who come, and the places of the benches", () => {
  const store = demoCopy();
  const { bench } = divisionQuestion(store, at).question;
  const places = openBenches(store).reduce((sum, each) => sum + each.places, 0);
  for (const day of ["2026-12-08", "2026-12-14", "2026-12-18"]) {
    const evenings = eveningsBetween(readOpening(store).opening, "2026-11-25", day);
    const open = evenings.reduce((sum, evening) => sum + lasts(evening), 0);
    expect(bench).toContainEqual({ day, of: "places", minutes: places * open, evenings: evenings.length });
  }
  expect(bench.map(({ of }) => of)).toEqual(["hands", "places", "hands", "places", "hands", "places"]);
});

test("a device takes up a place for as long as it is worked on or runs by itself, and is looked over at the end", () => {
  const store = demoCopy();
  const { candidates } = divisionQuestion(store, at).question;
  const options = candidates.flatMap((candidate) => candidate.options);
  for (const { hands, place } of options) {
    expect(hands).toBeGreaterThanOrEqual(CHECKOUT_MINUTES);
    expect(place).toBeGreaterThanOrEqual(hands);
  }
  expect(options.some(({ hands, place = 0 }) => place > hands + 10)).toBe(true);
  // What is finished has only the look at the end before it.
  const atTheEnd = new Set(
    placedDevices(store, null).flatMap(({ standing, station }) => (station === "checkout" ? [standing.tag] : [])),
  );
  const last = candidates.filter(({ device }) => atTheEnd.has(device)).flatMap((candidate) => candidate.options);
  expect(last.length).toBeGreaterThan(0);
  for (const { hands, place } of last) expect([hands, place]).toEqual([CHECKOUT_MINUTES, CHECKOUT_MINUTES]);
});

test("without benches places are taken as enough, and that is said", () => {
  const store = demoCopy();
  for (const bench of openBenches(store)) changeBench(store, bench.id, bench.version, { ...bench, closed: true }, hand);
  const { question, problems } = divisionQuestion(store, at);
  expect(problems).toEqual(["No bench is written down: places are taken as enough"]);
  expect(question.bench.every(({ of }) => of === "hands")).toBe(true);
});

test("a day that is over, or before which no evening is held, is said with what would make it possible", () => {
  const store = demoCopy();
  const problemsFor = (by: string) => {
    const [group] = listGroups(store);
    const { id, version, closed, ...fields } = group;
    expect(changeGroup(store, { id, version, closed }, { ...fields, by }, hand)).toBeNull();
    return divisionQuestion(store, at).problems.filter((each) => each.startsWith(group.name));
  };
  expect(problemsFor("2026-11-24")).toEqual([expect.stringMatching(/24 Nov 2026, is over. Agree on a later one/)]);
  // The first evening is held on the 26th.
  expect(problemsFor("2026-11-25")).toEqual([expect.stringMatching(/no evening is held until their day, 25 Nov 2026/)]);
  expect(problemsFor("2026-11-26")).toEqual([]);
});

test("what only some may do waits for their minutes; what nobody may do is said, and given to nobody", async () => {
  const store = demoCopy();
  const only = (ways: readonly string[]) => {
    for (const { id, version, closed, ...fields } of listVolunteers(store))
      expect(changeVolunteer(store, { id, version, closed }, { ...fields, ways: [...ways] }, hand)).toBeNull();
    const { question, problems } = divisionQuestion(store, at);
    return { question, problems, known: question.bench.filter(({ skills }) => skills) };
  };
  // Everybody may do everything.
  expect(only([])).toMatchObject({ problems: [], known: [] });
  const { question, problems, known } = only(["official-update", "clean-data", "cleaned-stock"]);
  expect(known.map(({ minutes }) => minutes)).toEqual([0, 0, 0]);
  const { skills } = known[0];
  expect(skills).toContain("unlocking + recovery-packages");
  expect(skills).not.toContain("official-update + clean-data");
  expect(problems).toEqual([
    expect.stringMatching(
      /^Nobody who comes may do Unlocking, .*: \d+ devices .* Show somebody, or write down at Evenings who may$/,
    ),
  ]);
  const highs = await loadHighs();
  const { placed } = divide(question, { highs, milliseconds: 700, now: () => performance.now() });
  expect(placed.length).toBeGreaterThan(0);
  expect(placed.filter(({ option }) => option.skill && skills?.includes(option.skill))).toEqual([]);
  // Each way is known, but nobody knows both: what takes both is said by itself.
  const people = listVolunteers(store);
  for (const [k, { id, version, closed, ...fields }] of people.entries()) {
    const ways = WAYS.map((way) => way.id).filter((way) => way !== (k === 0 ? "unlocking" : "recovery-packages"));
    expect(changeVolunteer(store, { id, version, closed }, { ...fields, ways }, hand)).toBeNull();
  }
  const apart = divisionQuestion(store, at).problems;
  expect(apart.length).toBeGreaterThan(0);
  for (const problem of apart)
    expect(problem).toMatch(/^Nobody who comes may do all of .*Unlocking, .*Recovery and packages/);
  // One who may is enough to hope: by the minutes that she has.
  const [first] = listVolunteers(store);
  const { id, version, closed, ...fields } = first;
  expect(changeVolunteer(store, { id, version, closed }, { ...fields, ways: [] }, hand)).toBeNull();
  const asked = divisionQuestion(store, at);
  expect(asked.problems).toEqual([]);
  const own = asked.question.bench.find(({ skills: some, day }) => some && day === "2026-12-18");
  const evenings = eveningsOf(first, eveningsBetween(readOpening(store).opening, "2026-11-25", "2026-12-18"));
  expect(own?.minutes).toBe(evenings.reduce((sum, evening) => sum + lasts(evening), 0));
});

test("who may do something but never comes is nobody; where nobody comes at all, that is said", () => {
  const store = demoCopy();
  const { opening, version } = readOpening(store);
  // On Wednesdays only one comes, who may not do everything.
  saveOpening(
    store,
    { ...opening, hours: [{ rule: "FREQ=WEEKLY;BYDAY=WE", from: "17:00", minutes: 120 }] },
    version,
    hand,
  );
  expect(divisionQuestion(store, at).problems).toEqual([expect.stringMatching(/^Nobody who comes may do Unlocking, /)]);
  const [only] = listVolunteers(store).filter(({ days }) => days.length === 0);
  const { id, version: seen, closed, ...fields } = only;
  expect(changeVolunteer(store, { id, version: seen, closed }, { ...fields, days: ["MO"] }, hand)).toBeNull();
  expect(divisionQuestion(store, at).problems).toEqual(["Nobody comes on any evening that is held: look at Evenings"]);
});
