import { readOpeningText } from "./readOpening";

test("a line is a rule, a time, minutes and maybe a day to count from", () => {
  const read = readOpeningText(
    "FREQ=WEEKLY;BYDAY=TH 18:00 180\n\nFREQ=WEEKLY;INTERVAL=2;BYDAY=TU  18:00 90 2026-12-01 ",
    "2026-12-24, 2026-12-31",
    "0,5",
  );
  expect(read).toEqual({
    opening: {
      hours: [
        { rule: "FREQ=WEEKLY;BYDAY=TH", from: "18:00", minutes: 180 },
        { rule: "FREQ=WEEKLY;INTERVAL=2;BYDAY=TU", from: "18:00", minutes: 90, since: "2026-12-01" },
      ],
      closed: ["2026-12-24", "2026-12-31"],
      line: 0.5,
    },
  });
});

test.each([
  ["FREQ=DAILY 18:00", /^Line 1: write rule, time and minutes/],
  ["FREQ=DAILY 18:00 60\nFREQ=DAILY 25:00 60", /^Line 2: Write a time/],
  ["FREQ=DAILY 18:00 60\nFREQ=DAILY 22:00 180", /^Line 2: It would pass midnight/],
  ["FREQ=WEEKLY;INTERVAL=2 18:00 60", /^Line 1: INTERVAL=2 counts from a day/],
  ["FREQ=WEEKLY;INTERVAL=2 18:00 60 soon", /^Line 1: Write the date/],
])("refuses %s", (hours, says) => {
  expect(readOpeningText(hours, "", "")).toEqual({ wrong: { hours: expect.stringMatching(says) } });
});
