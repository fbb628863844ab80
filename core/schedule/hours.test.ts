import { eveningsBetween, hoursAsWritten, Opening } from "./hours";
import { eveningsOf, handsMinutes } from "./volunteer";

const opening = (rule: string, closed: readonly string[] = []) =>
  Opening.parse({ hours: [{ rule, from: "18:00", minutes: 180 }], closed });
const daysOf = (rule: string, from: string, to: string, closed?: readonly string[]) =>
  eveningsBetween(opening(rule, closed), from, to).map(({ day }) => day);

// Calendar facts: 1 December 2026 is a Tuesday; 29 February 2028 exists.
test("weekly on two days, without the days on which it is closed", () => {
  expect(daysOf("FREQ=WEEKLY;BYDAY=TU,TH", "2026-12-01", "2026-12-10", ["2026-12-03"])).toEqual([
    "2026-12-01",
    "2026-12-08",
    "2026-12-10",
  ]);
});

// RFC 5545, 3.3.10: BYDAY with a number counts within the month; -1 is the last one.
test.each([
  ["FREQ=MONTHLY;BYDAY=-1FR", ["2026-11-27", "2026-12-25"]],
  ["RRULE:FREQ=MONTHLY;BYDAY=2WE", ["2026-11-11", "2026-12-09"]],
  ["FREQ=WEEKLY;INTERVAL=2;BYDAY=MO", ["2026-11-02", "2026-11-16", "2026-11-30", "2026-12-14", "2026-12-28"]],
  ["FREQ=YEARLY;BYMONTH=12;BYMONTHDAY=24", ["2026-12-24"]],
])("%s", (rule, days) => {
  expect(daysOf(rule, "2026-11-01", "2026-12-31")).toEqual(days);
});

// RFC 5545, 3.8.2.4: DTSTART is what a rule counts from.
test.each([
  ["FREQ=WEEKLY;INTERVAL=2;BYDAY=TU", "2026-12-01", ["2026-12-01", "2026-12-15", "2026-12-29"]],
  ["FREQ=WEEKLY;INTERVAL=2;BYDAY=TU", "2026-12-08", ["2026-12-08", "2026-12-22"]],
  ["FREQ=WEEKLY;COUNT=3;BYDAY=TU", "2026-12-02", ["2026-12-08", "2026-12-15", "2026-12-22"]],
])("%s from %s", (rule, since, days) => {
  const counted = Opening.parse({ hours: [{ rule, from: "18:00", minutes: 180, since }] });
  expect(eveningsBetween(counted, "2026-11-01", "2026-12-31").map(({ day }) => day)).toEqual(days);
});

test("two rules that meet on a day are one evening, apart they are two", () => {
  const hours = [
    { rule: "FREQ=MONTHLY;BYDAY=1TU", from: "10:00", minutes: 120 },
    { rule: "FREQ=WEEKLY;BYDAY=TU", from: "18:00", minutes: 180 },
    { rule: "FREQ=MONTHLY;BYDAY=1TU", from: "18:00", minutes: 60 },
    { rule: "FREQ=MONTHLY;BYDAY=1TU", from: "19:30", minutes: 120 },
  ];
  expect(eveningsBetween(Opening.parse({ hours }), "2026-12-01", "2026-12-08")).toEqual([
    { day: "2026-12-01", from: "10:00", to: "12:00" },
    { day: "2026-12-01", from: "18:00", to: "21:30" },
    { day: "2026-12-08", from: "18:00", to: "21:00" },
  ]);
});

test("what would not be held as it is written is said, row by row", () => {
  const row = (rule: string, from = "18:00", since?: string) => ({ rule, from, minutes: 180, since });
  const hours = [
    row("FREQ=DAILY"),
    row("FREQ=DAILY", "21:00"),
    row("FREQ=DAILY", "21:01"),
    row("FREQ=WEEKLY;COUNT=3"),
    row("FREQ=WEEKLY;COUNT=3", "18:00", "2026-12-01"),
    row("freq=weekly;interval=2"),
    row("FREQ=WEEKLY;INTERVAL=1;COUNT=10"),
    row("FREQ=WEEKLY;INTERVAL=12"),
    row("FREQ=WEEKLY;INTERVAL=1"),
  ];
  expect(hoursAsWritten(hours).map((each) => each?.slice(0, 14) ?? null)).toEqual([
    null,
    null,
    "It would pass ",
    "COUNT=3 counts",
    null,
    "interval=2 cou",
    "COUNT=10 count",
    "INTERVAL=12 co",
    null,
  ]);
});

test.each(["2026-02-30", "2026-13-01", "2027-02-29", "2026-00-10"])(
  "%s is no day on which it could be closed",
  (day) => {
    expect(Opening.safeParse({ closed: [day] }).success).toBe(false);
  },
);

test("a leap day is found", () => {
  expect(daysOf("FREQ=MONTHLY;BYMONTHDAY=29", "2028-02-01", "2028-02-29")).toEqual(["2028-02-29"]);
});

test.each([
  "",
  "WEEKLY",
  "FREQ=HOURLY",
  "FREQ=SECONDLY",
  "FREQ=WEEKLY;BYDAY=XX",
  "BYDAY=TU",
  "FREQ=DAILY;INTERVAL=0",
  "FREQ=DAILY;BYMONTH=2;BYMONTHDAY=31",
  "FREQ=WEEKLY;DTSTART=00010101T000000Z",
])("refuses “%s”", (rule) => {
  expect(Opening.safeParse({ hours: [{ rule, from: "18:00", minutes: 60 }] }).success).toBe(false);
});

test("an evening that would pass midnight ends with the day", () => {
  const late = Opening.parse({ hours: [{ rule: "FREQ=DAILY", from: "22:00", minutes: 300 }] });
  expect(eveningsBetween(late, "2026-12-01", "2026-12-01")).toEqual([
    { day: "2026-12-01", from: "22:00", to: "23:59" },
  ]);
});

test("who comes: by weekday, without the evenings away", () => {
  const evenings = eveningsBetween(opening("FREQ=WEEKLY;BYDAY=TU,TH"), "2026-12-01", "2026-12-08");
  const tuesdays = { days: ["TU" as const], away: ["2026-12-08"] };
  expect(eveningsOf(tuesdays, evenings).map(({ day }) => day)).toEqual(["2026-12-01"]);
  expect(handsMinutes([tuesdays, { days: [], away: [] }], evenings[0])).toBe(360);
  expect(handsMinutes([tuesdays, { days: [], away: [] }], evenings[1])).toBe(180);
});
