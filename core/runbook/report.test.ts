import { MAX_REPORT_LINES, type ReportLine, readReport } from "./report";

const line: ReportLine = {
  session: "20261128-0907.1",
  seq: 1,
  at: "2026-11-28T09:07:00Z",
  step: 3,
  code: "fastboot.flash-recovery",
  event: "done",
  exit: 0,
  values: { "ro.build.id": "QK2A" },
  tail: "OKAY",
};
const report = (...lines: object[]) => lines.map((each) => `${JSON.stringify(each)}\n`).join("");

test("lines as a script writes them", () => {
  const lines = (["begun", "done", "failed"] as const).map((event, i) => ({ ...line, seq: i + 1, event }));
  expect(readReport(report(...lines))).toEqual({ ok: true, lines });
  expect(readReport(`\n${report(line)}  \n`)).toEqual({ ok: true, lines: [line] });
  expect(readReport("")).toEqual({ ok: true, lines: [] });
});

test("the last line is still being written: left for the next time", () => {
  expect(readReport(`${report(line)}{"session":"2026`)).toEqual({ ok: true, lines: [line] });
});

test("as much as a device tells is kept, to its last letter", () => {
  const long = {
    ...line,
    step: 0,
    exit: null,
    values: { ["k".repeat(240)]: "v".repeat(400) },
    tail: "t".repeat(20_000),
  };
  expect(readReport(report(long))).toEqual({ ok: true, lines: [long] });
});

test.each<[string, object, string]>([
  ["an event that is none", { event: "perhaps" }, "event"],
  ["a session that is a path", { session: "../x" }, "session"],
  ["no session", { session: "" }, "session"],
  ["counted from nothing", { seq: 0 }, "seq"],
  ["half a step", { step: 1.5 }, "step"],
  ["a day that is none", { at: "yesterday" }, "at"],
  ["a name too long", { values: { ["k".repeat(241)]: "v" } }, "values"],
  ["a value too long", { values: { k: "v".repeat(401) } }, "values.k"],
  ["an answer too long", { tail: "t".repeat(20_001) }, "tail"],
])("%s is refused, with its place", (_name, change, where) => {
  const read = readReport(report(line, { ...line, ...change }));
  expect(read).toMatchObject({ ok: false, says: expect.stringContaining(`Line 2, ${where}`) });
});

test("what is no JSON, and what has no end, is refused in words", () => {
  expect(readReport(`${report(line)}not json\n`)).toMatchObject({ ok: false, says: expect.stringContaining("Line 2") });
  const most = Array.from({ length: MAX_REPORT_LINES }, () => line);
  expect(readReport(report(...most)).ok).toBe(true);
  expect(readReport(report(...most, line))).toMatchObject({
    ok: false,
    says: `It has more than ${MAX_REPORT_LINES} lines`,
  });
});
