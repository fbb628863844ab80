import ical from "ical-generator";
import { daysOff } from "./daysOff";

const calendar = (...events: string[]) =>
  ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//y//EN", ...events, "END:VCALENDAR"].join("\r\n");
const event = (...lines: string[]) => ["BEGIN:VEVENT", "UID:a", ...lines, "END:VEVENT"].join("\r\n");
const read = (text: string) => daysOff(text, "2026-01-01", "2027-12-31");
const days = (text: string) => {
  const answer = read(text);
  if (typeof answer === "string") throw new Error(answer);
  return answer.days;
};

test("what another program writes: a day, and days on end; the last day is the one before its end", () => {
  const made = ical();
  made.createEvent({
    start: new Date("2026-12-24T00:00Z"),
    end: new Date("2026-12-27T00:00Z"),
    allDay: true,
    summary: "Yule",
  });
  made.createEvent({ start: new Date("2026-05-01T00:00Z"), allDay: true, summary: "May Day" });
  expect(days(made.toString())).toEqual(["2026-05-01", "2026-12-24", "2026-12-25", "2026-12-26"]);
});

// RFC 5545, section 3.8.5.3, has this rule among its examples (every year in the last week of May: US Memorial Day).
test("a feast that moves, every year within what is asked for", () => {
  const text = calendar(event("DTSTART;VALUE=DATE:19970526", "RRULE:FREQ=YEARLY;BYMONTH=5;BYDAY=-1MO", "SUMMARY:x"));
  expect(days(text)).toEqual(["2026-05-25", "2027-05-31"]);
});

test("what was taken out, moved or cancelled does not count", () => {
  const yearly = event(
    "DTSTART;VALUE=DATE:20260601",
    "RRULE:FREQ=MONTHLY;COUNT=4",
    "EXDATE;VALUE=DATE:20260701",
    "SUMMARY:x",
  );
  const moved = event("RECURRENCE-ID;VALUE=DATE:20260801", "DTSTART;VALUE=DATE:20260803", "SUMMARY:x");
  const cancelled = event(
    "RECURRENCE-ID;VALUE=DATE:20260901",
    "DTSTART;VALUE=DATE:20260901",
    "STATUS:CANCELLED",
    "SUMMARY:x",
  );
  expect(days(calendar(yearly, moved, cancelled))).toEqual(["2026-06-01", "2026-08-03"]);
  expect(days(calendar(event("DTSTART;VALUE=DATE:20260601", "STATUS:CANCELLED", "SUMMARY:x")))).toEqual([]);
});

test("what has a time of day, no day, or lasts for ever is told, not taken whole", () => {
  const answer = read(
    calendar(
      event("DTSTART:20261201T180000Z", "SUMMARY:Team evening"),
      event("SUMMARY:Nothing"),
      event("DTSTART;VALUE=DATE:20260101", "DTEND;VALUE=DATE:20270101", "SUMMARY:The year"),
    ),
  );
  if (typeof answer === "string") throw new Error(answer);
  expect(answer.passedOver).toEqual([
    "Team evening: it has a time of day",
    "Nothing: it has no day",
    "The year: it lasts longer than 62 days; its first 62 are taken",
  ]);
  expect(answer.days).toHaveLength(62);
});

test.each([
  ["nothing", "", /no event/],
  ["something else", "hello", /can't be read/],
  ["broken off", "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:2026", /can't be read|no event/],
  ["a card", "BEGIN:VCARD\r\nVERSION:3.0\r\nEND:VCARD", /no calendar/],
  ["no event", calendar(), /no event/],
])("refused in words: %s", (_, text, says) => {
  expect(read(text)).toMatch(says);
});

test("rules that come daily or oftener, or on days that never come, end and say so", () => {
  const rule = (text: string) => calendar(event("DTSTART;VALUE=DATE:20260101", `RRULE:${text}`, "SUMMARY:x"));
  expect(read(rule("FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30"))).toMatchObject({
    days: [],
    passedOver: ["x: it repeats too often to be a holiday"],
  });
  expect(days(rule("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30"))).toEqual([]);
  const many = Array.from({ length: 40 }, (_, k) =>
    event("DTSTART;VALUE=DATE:16000103", "RRULE:FREQ=WEEKLY", `SUMMARY:x${k}`),
  );
  expect(read(calendar(...many))).toMatchObject({
    passedOver: expect.arrayContaining(["x39: what repeats in this calendar comes too often"]),
  });
});
