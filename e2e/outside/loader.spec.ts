import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { type IdentityCopy, readIdentityValue } from "~/core/runbook/identityCopy";
import { readReport } from "~/core/runbook/report";
import type { FlasherSettings, Runbook } from "~/core/runbook/step";
import type { PhoneState } from "~/phone/state";
import {
  later,
  phoneState,
  type RunResult,
  runScript,
  sheetOf,
  type Treated,
  treat,
  wayTo,
  writeScript,
} from "../rig/bench";

// A loader board, judged from outside: dumped while it works, written row by row, given its own dump back; the row list
// goes to the stand-in flasher as the sheet has it, and the board finds out at its next start what was wrong with it.

const keep = () => fs.mkdtempSync(path.join(os.tmpdir(), "upshift-board-"));

function toNewer() {
  const treated = treat("SF-43");
  return { treated, sheet: sheetOf(treated, wayTo(treated.plan, "hearth3-stock-11")), state: phoneState(treated) };
}

/** What a run kept of the device, as the lane takes it from the report. */
function copiesOf(run: RunResult): IdentityCopy[] {
  const read = readReport(run.lines);
  if (!read.ok) throw new Error(read.says);
  return read.lines.flatMap((l) => Object.entries(l.values).flatMap(([k, v]) => readIdentityValue(k, v) ?? []));
}

function withSettings(sheet: Runbook, code: string, change: (s: FlasherSettings) => FlasherSettings): Runbook {
  let made = false;
  const steps = sheet.steps.map((step) => {
    if (step.code !== code || step.deed.kind !== "flasher") return step;
    made = true;
    return { ...step, deed: { ...step.deed, settings: change(step.deed.settings) } };
  });
  if (!made) throw new Error(`the mistake was not made: no step ${code}`);
  return { ...sheet, steps };
}

const written = (change: (s: FlasherSettings) => FlasherSettings) => {
  const { sheet, state } = toNewer();
  return runScript(writeScript(withSettings(sheet, "flasher.rows", change)), state);
};

test("dumped, written, broken, and given its own dump back", async () => {
  const folder = keep();
  const { treated, sheet, state } = toNewer();
  const there = await runScript(writeScript(sheet), state, undefined, { KEEP: folder });
  expect(there.stderr).toBe("");
  expect(there.report).toMatchObject({ boots: true, release: "11", image: "hearth3-stock-11" });
  const copies = copiesOf(there);
  // Common practice, no source: 13 images and the partition list.
  expect(copies).toHaveLength(14);
  expect(fs.readdirSync(path.join(folder, "SF-43"))).toHaveLength(14);

  // Somebody writes over its kernel: it does not start any more.
  state.partitions.kernel = null;
  state.mode = "bootloop";
  const after = later(treated, sheet);
  const facts = new Map(after.facts);
  for (const [key, value] of [
    ["system.starts", "no"],
    ["accounts.on", false],
  ] as const)
    facts.set(key, { key, value, source: "read", at: "2026-11-21T09:00:00.000Z", by: "test" });
  const broken: Treated = later({ ...after, facts }, { ...sheet, steps: [], operations: [] });
  const way = broken.plan.ways.find((w) => w.operations[0].kind === "restore-board");
  if (!way) throw new Error(`no way back: ${broken.plan.says}`);
  expect(way.release).toBe("9");
  const back = sheetOf(broken, way, undefined, copies);
  expect(back.steps.find((s) => s.code === "gate.kept-files")).toBeTruthy();
  expect(back.steps.some((s) => s.code.startsWith("keys.bootloader"))).toBe(false);
  const settings = back.steps.find((s) => s.deed.kind === "flasher")?.deed as { settings: FlasherSettings };
  expect(settings.settings.rows.filter((r) => r.on)).toHaveLength(14);
  expect(settings.settings.rows.filter((r) => !r.on).map((r) => r.row)).toEqual(["loader", "userdata"]);
  const home = await runScript(writeScript(back), state, undefined, { KEEP: folder });
  expect(home.stderr).toBe("");
  expect(home.report).toMatchObject({ boots: true, release: "9", storage: "clean" });

  // A kept file that was changed since goes on no board.
  const name = copies.find((c) => c.partition === "boot")?.file ?? "";
  fs.appendFileSync(path.join(folder, "SF-43", name), "x");
  const refused = await runScript(writeScript(back), structuredClone(state), undefined, { KEEP: folder });
  expect(refused.stderr).toContain(`${name} is not what was kept of this device`);
});

for (const [what, temper, words] of [
  ["that is cut short", { dumpBreaksAt: "recovery" }, ["recovery: the lead dropped out"]],
  [
    "of which a row was read by half, without a word,",
    { dumpsHalfOf: "system" },
    ["The dump is not whole:", "system has 2048 bytes of 2147483648;"],
  ],
] as const)
  test(`a dump ${what} stops everything before the first write`, async () => {
    const { sheet, state } = toNewer();
    Object.assign(state.loader ?? {}, temper);
    const before = JSON.stringify(state.partitions);
    const run = await runScript(writeScript(sheet), state);
    expect(run.status).toBe(1);
    for (const said of words) expect(run.stderr).toContain(said);
    expect(JSON.stringify(state.partitions)).toBe(before);
  });

test("rows off by one are written without a word, and the board does not start", async () => {
  const run = await written((s) => {
    const on = s.rows.filter((r) => r.on);
    const files = on.map((r) => r.file);
    return {
      ...s,
      rows: s.rows.map((r) => (r.on ? { ...r, file: files[(on.indexOf(r) + 1) % on.length] } : r)),
    };
  });
  expect(run.report.boots).toBe(false);
  expect(run.stderr).not.toBe("");
});

test("the loader's row ticked ends the board; user data ticked has no file; the list not cleaned is refused", async () => {
  const loader = await written((s) => ({
    ...s,
    rows: s.rows.map((r) => (r.row === "loader" ? { ...r, on: true, file: "hearth3-stock-11/uboot.img" } : r)),
  }));
  expect(loader.report.alive).toBe(false);
  const data = await written((s) => ({
    ...s,
    rows: s.rows.map((r) => (r.row === "userdata" ? { ...r, on: true } : r)),
  }));
  expect(data.stdout).toContain("row userdata is ticked and has no file");
  expect(data.report.trail.join()).not.toContain("wrote");
  const dirty = await written((s) => ({ ...s, list: `PARM${s.list}\n\u0011` }));
  expect(dirty.stdout).toContain("it is not cleaned");
});

test("another chip in a box of the same name: the plan refuses, and so does the board", async () => {
  const other = treat("SF-43", { chip: "Tarn T38 rev A" });
  expect(other.plan.ways.some((w) => w.operations.some((o) => o.kind === "write-rows"))).toBe(false);
  expect(other.plan.stops.find((s) => s.image === "hearth3-stock-11")?.code).toBe("loader.other-chip");
  // Nothing is taken from the name on the box: without the chip it is a question.
  const unread = treat("SF-43", { chip: undefined });
  expect(unread.plan.best?.questions.map((q) => q.fact)).toContain("board.chip");
  const { sheet, state } = toNewer();
  const wrong: PhoneState = { ...state, loader: state.loader && { ...state.loader, chip: "Tarn T38 rev A" } };
  const run = await runScript(writeScript(sheet), wrong);
  expect(run.report.boots).toBe(false);
});
