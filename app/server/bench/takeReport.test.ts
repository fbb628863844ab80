import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { reportsOf } from "~/store/reports";
import { findRun } from "~/store/runs";
import { addReportKey } from "~/store/shown";
import { actAtBench } from "./actAtBench";
import { accept, clock, end, fact, hand, sheet, standing } from "./loop.testing";
import { runbookOf } from "./runbooks";
import { takeReport } from "./takeReport";

describe("a script's report", () => {
  const line = (store: Store, tag: string, seq: number, step: number, event: string, values = {}, tail = "") =>
    `${JSON.stringify({
      session: "s1",
      seq,
      at: new Date(clock + seq * 1000).toISOString(),
      step,
      code: sheet(store, tag).steps[step - 1].code,
      event,
      exit: event === "begun" ? null : event === "done" ? 0 : 1,
      values,
      tail,
    })}\n`;

  test("begins the run, moves it on, keeps output and readings; sent again it changes nothing", () => {
    const store = demoCopy();
    accept(store, "TH-021", "plainsong-14-arm64");
    const text =
      line(store, "TH-021", 1, 1, "begun") +
      line(store, "TH-021", 2, 1, "done", {}, "all digests agree") +
      line(store, "TH-021", 3, 2, "begun") +
      line(store, "TH-021", 4, 2, "done");
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({ ok: true, taken: 4, done: 2, refused: [] });
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({ ok: true, taken: 0, done: 2 });
    const half = `${text}${line(store, "TH-021", 5, 3, "begun").slice(0, 40)}`;
    expect(takeReport(store, "TH-021", half, 0)).toMatchObject({ ok: true, taken: 0, done: 2 });
    const run = findRun(store, standing(store, "TH-021").id);
    expect(reportsOf(store, run?.id ?? 0)).toHaveLength(4);
    // Script and hand take turns.
    expect(actAtBench(store, "TH-021", { act: "done", place: 2, note: "", yes: true }, hand())).toBeNull();
    const on =
      text +
      line(store, "TH-021", 5, 3, "begun") +
      line(store, "TH-021", 6, 3, "done") +
      line(store, "TH-021", 7, 4, "begun");
    expect(takeReport(store, "TH-021", on, 0)).toMatchObject({ ok: true, taken: 3, done: 3, refused: [] });
  });

  test("what an earlier run reported moves no later one, however like its sheet is", () => {
    const store = demoCopy();
    const of = (session: string, text: string) => text.replaceAll('"session":"s1"', `"session":"${session}"`);
    accept(store, "TH-021", "plainsong-14-arm64");
    const two = line(store, "TH-021", 1, 1, "done") + line(store, "TH-021", 2, 2, "done");
    const lost = of("lost", two);
    expect(takeReport(store, "TH-021", two, 0)).toMatchObject({ ok: true, taken: 2, done: 2 });
    expect(end(store, "TH-021", "starts")).toBeNull();
    // The script that was ended sends once more what it had: nothing begins by it.
    expect(takeReport(store, "TH-021", two, 0)).toMatchObject({ ok: true, taken: 0, done: 0, steps: 0 });
    accept(store, "TH-021", "plainsong-14-arm64");
    for (const [text, says] of [
      [two, "taken in with an earlier run"],
      [lost, "before the last run was ended"],
    ])
      expect(takeReport(store, "TH-021", text, 0)).toMatchObject({
        taken: 0,
        steps: 0,
        refused: [expect.stringContaining(says)],
      });
    const fresh = of("s2", line(store, "TH-021", 1, 1, "done").replace(/"at":"[^"]*"/, `"at":"${hand().at}"`));
    // One file that was written on by both: only what is of this run counts.
    expect(takeReport(store, "TH-021", two + fresh, 0)).toMatchObject({ ok: true, taken: 1, done: 1 });
    expect(takeReport(store, "TH-021", two, 0)).toMatchObject({ taken: 0, done: 1 });
  });

  test("what a script of another lane reports is no word on this one's device, in whatever file it stands", () => {
    const store = demoCopy();
    accept(store, "TH-021", "plainsong-14-arm64");
    const by = (script: string, session: string) =>
      (line(store, "TH-021", 1, 1, "done") + line(store, "TH-021", 2, 2, "done")).replaceAll(
        '"session":"s1"',
        `"session":"${session}","script":"${script}"`,
      );
    addReportKey(store, "0123456789abcdef".repeat(4), standing(store, "TH-021").id, hand());
    addReportKey(store, "fedcba9876543210".repeat(4), standing(store, "TH-001").id, hand());
    for (const elsewhere of ["0000000000000000", "fedcba9876543210"])
      expect(takeReport(store, "TH-021", by(elsewhere, "s9"), 0)).toMatchObject({
        taken: 0,
        steps: 0,
        refused: [expect.stringContaining("did not serve")],
      });
    const both = by("0000000000000000", "s9") + by("0123456789abcdef", "s2");
    expect(takeReport(store, "TH-021", both, 0)).toMatchObject({
      ok: true,
      taken: 2,
      done: 2,
      refused: [expect.any(String)],
    });
  });

  test("what a gate read is a measurement: another build stops the run and the way with it", () => {
    const store = demoCopy();
    accept(store, "TH-021", "plainsong-14-arm64");
    const gate = sheet(store, "TH-021").steps.findIndex((s) => s.code === "gate.ro.build.display.id");
    let text = "";
    for (let step = 1; step <= gate; step++) text += line(store, "TH-021", step, step, "done");
    text += line(
      store,
      "TH-021",
      gate + 1,
      gate + 1,
      "failed",
      { "ro.build.display.id": "BT11-RZ9A.211105.003" },
      "The build number is …",
    );
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({ ok: true, done: gate });
    expect(fact(store, "TH-021", "build.number")).toBe("BT11-RZ9A.211105.003");
    expect(runbookOf(store, "TH-021")).toMatchObject({ ok: false, code: "stale" });
  });

  test.each([
    ["", "empty"],
    ["not json\n", "Line 1 is not JSON"],
    ['{"session":"s"}\n', "Line 1"],
    [`${JSON.stringify({ session: "../x", seq: 1 })}\n`, "session"],
  ])("%j is refused with what and where", (text, says) => {
    const store = demoCopy();
    accept(store, "TH-021", "plainsong-14-arm64");
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({
      ok: false,
      status: 400,
      says: expect.stringContaining(says),
    });
    expect(takeReport(store, "NOPE", '{"session":"s"}\n', 0)).toMatchObject({ ok: false });
  });
});
