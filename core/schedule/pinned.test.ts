import type { Job, TimePin, Work } from "./eveningWork";
import { whyNotThere } from "./pinned";

const hands = (from: number, minutes: number) => ({
  kind: "hands" as const,
  from,
  to: from + 1,
  minutes,
  title: "by hand",
  lead: false,
});
const job: Job = {
  device: "a",
  pieces: [hands(0, 10), { ...hands(1, 30), kind: "alone" }, hands(2, 10)],
  ways: ["port"],
  needsComputer: false,
  build: "b",
  due: null,
  weight: 1,
};
const AT_18 = 18 * 60;
const work: Work = {
  jobs: [job, { ...job, device: "b" }],
  volunteers: [
    { name: "Odile", ways: [], minds: 3, days: [], away: [] },
    { name: "Bram", ways: ["official-update"], minds: 3, days: [], away: [] },
    { name: "Tess", ways: [], minds: 3, days: ["TH"], away: [] },
  ],
  benches: [{ name: "Window", host: "computer", places: 4, leads: 4, chargers: 4, cards: null, sticks: null }],
  // A Tuesday.
  evenings: [{ day: "2026-12-01", from: "18:00", to: "20:00" }],
  from: "2026-12-01",
  now: AT_18 + 5,
};
const pin: TimePin = { device: "a", ends: 1, volunteer: "Odile", bench: "Window", from: AT_18 + 30 };

test("a piece may go wherever its hands are there, know the way, and what comes before it is done", () => {
  expect(whyNotThere(work, pin)).toBeNull();
  expect(whyNotThere(work, { ...pin, ends: 3, from: AT_18 + 45 })).toBeNull();
  expect(whyNotThere(work, { ...pin, ends: null, from: AT_18 + 55 })).toBeNull();
});

test.each<[string, Partial<TimePin>, RegExp]>([
  ["a device that is done", { device: "z" }, /nothing is left/],
  ["a piece that is done", { ends: 99 }, /done already/],
  ["what runs by itself", { ends: 2 }, /runs by itself/],
  ["a stranger", { volunteer: "Nobody" }, /no volunteer Nobody/],
  ["hands that may not do it", { volunteer: "Bram" }, /Bram may not do port/],
  ["hands that don't come", { volunteer: "Tess" }, /Tess is not there/],
  ["a bench that is closed", { bench: "Cellar" }, /no open bench/],
  ["what is over", { from: AT_18 }, /over/],
  ["behind the closing hour", { from: 20 * 60 - 5 }, /not there for 10 minutes/],
  ["before what it waits for", { ends: 3, from: AT_18 + 44 }, /takes 40 minutes/],
])("not where it can't be: %s", (_, parts, says) => {
  expect(whyNotThere(work, { ...pin, ...parts })).toMatch(says);
});

test("nothing is put onto what is in hand, or onto hands that are pinned elsewhere at that time", () => {
  const begun = { ...job, begun: { start: AT_18, volunteer: "Tess", bench: null } };
  expect(whyNotThere({ ...work, jobs: [begun] }, pin)).toMatch(/Tess has it in hand/);
  const pins = [{ ...pin, device: "b", from: AT_18 + 35 }];
  expect(whyNotThere({ ...work, pins }, pin)).toMatch(/Odile has b pinned/);
  expect(whyNotThere({ ...work, pins: [{ ...pins[0], from: AT_18 + 40 }] }, pin)).toBeNull();
  // Moving the same piece is no conflict with itself.
  expect(whyNotThere({ ...work, pins: [pin] }, { ...pin, from: AT_18 + 35 })).toBeNull();
});
