import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { writePackagesBack } from "~/core/runbook/packagesBack";
import { readPackageValue } from "~/core/runbook/packagesSeen";
import type { ReportLine } from "~/core/runbook/report";
import type { Runbook } from "~/core/runbook/step";
import { phoneState, runScript, sheetOf, treat, writeScript } from "../rig/bench";

// The unmodified public adb client (Debian) cleans a tablet's stock system, puts it back, and cleans it again, on a phone that
// keeps its own book of which packages it needs.
const TAG = "TH-020";
const LIST = "tab8-clean-11";

function cleaning() {
  const treated = treat(TAG);
  const way = treated.plan.ways.find((w) => w.cleaned === LIST);
  if (!way) throw new Error("no way cleans it");
  return { treated, sheet: sheetOf(treated, way) };
}

const told = (lines: string) =>
  lines
    .trim()
    .split("\n")
    .flatMap((line) => Object.entries((JSON.parse(line) as ReportLine).values));

test("a tablet is cleaned with the real client, undone, and cleaned again", async () => {
  test.setTimeout(240_000);
  const { treated, sheet } = cleaning();
  const state = phoneState(treated);
  const keep = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-keep-"));
  const first = await runScript(writeScript(sheet), state, undefined, { KEEP: keep });
  expect(first.stderr).not.toContain("STOP");
  expect(first.status).toBe(0);
  expect(first.report).toMatchObject({ boots: true, release: "11", storage: "clean" });
  const values = told(first.lines);
  const gone = values.flatMap(([n, v]) => readPackageValue(n, v) ?? []).filter((p) => p.outcome === "gone");
  const step = sheet.steps.find((s) => s.deed.kind === "gate" && s.deed.gate.kind === "uninstall");
  const names = step?.deed.kind === "gate" && step.deed.gate.kind === "uninstall" ? step.deed.gate.packages : [];
  expect(names.length).toBeGreaterThan(10);
  expect(gone.map((p) => p.name)).toEqual(names);
  // The phone's own book agrees, and what must stay is there.
  for (const name of names) expect(state.packages.all[name].user, name).toBe(false);
  for (const name of ["com.android.phone", "com.ondarra.launcher"]) expect(state.packages.all[name].user).toBe(true);
  expect([state.packages.home, state.packages.keyboard]).toEqual(["example.firstshelf.home", "example.plainkeys"]);
  // What it brought, read before and after.
  const read = (name: string) => Number(values.find(([n]) => n === name)?.[1]);
  expect(read("packages.before") - read("packages.after")).toBe(names.length - 2);
  expect(read("storage.after")).toBeGreaterThan(read("storage.before"));
  expect(read("memory.after")).toBeGreaterThan(read("memory.before"));
  // The undo file holds what is gone, a name a line.
  const [undo] = fs.readdirSync(path.join(keep, TAG)).filter((f) => f.includes("removed"));
  expect(
    fs
      .readFileSync(path.join(keep, TAG, undo), "utf8")
      .trim()
      .split("\n"),
  ).toEqual(names);
  expect(state.debugging).toBe(false);

  // Undone, with debugging on again.
  Object.assign(state, { debugging: true, authorised: true });
  const back = await runScript(writePackagesBack({ tag: TAG, serial: state.serial, names }), state);
  expect(back.stderr).toBe("");
  expect(back.stdout).toContain(`All ${names.length} are back`);
  for (const name of names) expect(state.packages.all[name].user, name).toBe(true);

  // And again: what lies on the system partition goes once more.
  const second = await runScript(writeScript(sheet), state, undefined, { KEEP: keep });
  expect(second.status).toBe(0);
  for (const name of names) expect(state.packages.all[name].user, name).toBe(false);
});

// Its likeliest mistakes. Common practice, no source.
const spoil = (change: (steps: Runbook["steps"]) => Runbook["steps"]) => {
  const { treated, sheet } = cleaning();
  return runScript(writeScript({ ...sheet, steps: change(sheet.steps) }), phoneState(treated));
};
const taking = (steps: Runbook["steps"], names: (old: readonly string[]) => readonly string[]) =>
  steps.map((s) =>
    s.deed.kind === "gate" && s.deed.gate.kind === "uninstall"
      ? { ...s, deed: { ...s.deed, gate: { ...s.deed.gate, packages: names(s.deed.gate.packages) } } }
      : s,
  );

test("a kept package among them: it does not start again, and the script says so", async () => {
  const run = await spoil((steps) => taking(steps, (old) => [...old, "com.android.systemui"]));
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("com.android.systemui was taken away");
  expect(run.report.boots).toBe(false);
});

test("the maker's home screen taken too: the recent-apps key is found dead", async () => {
  const run = await spoil((steps) => taking(steps, (old) => [...old, "com.ondarra.launcher"]));
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("recent-apps key does nothing");
});

test("the keyboard taken before another was made default: found by trying", async () => {
  const forgot = await spoil((steps) => steps.filter((s) => !s.code.includes("ime-set")));
  expect(forgot.status).toBe(1);
  expect(forgot.stderr).toContain("com.ondarra.keyboard/.Main”, wanted is “example.plainkeys/");
});

test("another tablet's build: nothing is taken away", async () => {
  const { treated, sheet } = cleaning();
  const state = phoneState(treated);
  for (const c of Object.values(state.partitions)) if (c) c.build = "OT11-RZ9A.999999.009";
  const run = await runScript(writeScript(sheet), state);
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("build number");
  expect(state.packages.all["com.ondarra.mall"].user).toBe(true);
});
