import { checkTimetable } from "./checkTimetable";
import { Instance } from "./instance";

const instance = Instance.parse({
  resources: [{ id: "place", capacity: 2 }],
  tasks: [
    { id: "a", minutes: 10, uses: [{ resource: "place", amount: 1 }] },
    { id: "b", minutes: 10, uses: [{ resource: "place", amount: 1 }] },
    { id: "c", minutes: 10, uses: [{ resource: "place", amount: 1 }], after: ["a"] },
  ],
});
const timed = (a: number, b: number, c: number) => [
  { id: "a", start: a },
  { id: "b", start: b },
  { id: "c", start: c },
];

test("finds nothing wrong with a timetable that keeps everything", () => {
  expect(checkTimetable(instance, timed(0, 0, 10))).toEqual([]);
});

test.each([
  ["a task before its forerunner has ended", timed(0, 0, 9), /“c” begins before “a”/],
  ["more held than there is", timed(0, 12, 10), null],
  ["a start before the beginning", timed(-1, 0, 10), /begins at -1/],
  ["a task left out", timed(0, 0, 10).slice(0, 2), /2 tasks are timed/],
  ["a task timed twice", [...timed(0, 0, 10).slice(0, 2), { id: "a", start: 3 }], /timed twice/],
  ["a start that is no number", timed(0, Number.NaN, 10), /begins at NaN/],
])("%s", (_, starts, says) => {
  const wrong = checkTimetable(instance, starts).join("\n");
  if (says) expect(wrong).toMatch(says);
  else expect(wrong).toBe("");
});

test("three at once on two places", () => {
  const free = Instance.parse({ ...instance, tasks: instance.tasks.map((task) => ({ ...task, after: [] })) });
  expect(checkTimetable(free, timed(0, 5, 8)).join()).toMatch(/at 8, 3 of “place” are held, it has 2/);
});
