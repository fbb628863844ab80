import fc from "fast-check";
import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { checkItems } from "./checkout";
import { writeRunbook } from "./runbook";
import { shellQuote, writeScript } from "./writeScript";
import { commandText, durationText, writeRunbookJson, writeSheet } from "./writeSheet";

const index = indexCatalogue(demoCatalogue());

/** Sheets of every way of every demo device that may be planned. */
const sheets = demoScenario().devices.flatMap((d) => {
  const facts = currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x"));
  const need = index.needs.get(d.need);
  if (!need) throw new Error(d.need);
  const plan = planDevice({ facts, clearance: d.clearance, need }, index, DEFAULT_POLICY);
  const model = plan.model ? index.models.get(plan.model) : undefined;
  return model
    ? plan.ways.map((way) => ({
        way,
        model,
        need,
        sheet: writeRunbook({
          tag: d.tag,
          serial: d.serial ?? null,
          model,
          facts,
          way,
          index,
          policy: DEFAULT_POLICY,
        }),
      }))
    : [];
});

test("there are sheets of many ways to look at", () => {
  expect(sheets.length).toBeGreaterThan(60);
});

test("every step says what is normal, what to do otherwise, and how long; step codes are unique", () => {
  for (const { sheet } of sheets) {
    expect(new Set(sheet.steps.map((s) => s.code)).size).toBe(sheet.steps.length);
    const poor = sheet.steps.filter(
      (s) => s.normal.length === 0 || s.otherwise.length <= 5 || s.latestSeconds < s.usualSeconds,
    );
    expect(poor).toEqual([]);
  }
});

test("toggles and account removal come before the first step that wipes", () => {
  const wipes = /flashing-unlock|oem-unlock|format-data|fastboot\.-w|factory-reset|wipe-advanced/;
  for (const { sheet } of sheets) {
    const codes = sheet.steps.map((s) => s.code);
    const first = codes.findIndex((c) => wipes.test(c));
    if (first < 0) continue;
    expect(codes.indexOf("android.remove-accounts")).toBeLessThan(first);
    const allow = codes.indexOf("android.allow-unlocking");
    if (allow >= 0) expect(allow).toBeLessThan(first);
  }
});

test("the services add-on goes on before the first start", () => {
  const with_ = sheets.filter(({ way }) => way.operations.some((o) => o.kind === "install-services"));
  expect(with_.length).toBeGreaterThan(3);
  for (const { sheet } of with_) {
    const codes = sheet.steps.map((s) => s.code);
    const add = sheet.steps.findIndex(
      (s) => s.title.startsWith("Install Larder") || s.title.startsWith("Sideload Larder"),
    );
    expect(add).toBeGreaterThan(0);
    expect(add).toBeLessThan(codes.indexOf("check.started"));
  }
});

test("what can't be undone takes a deliberate yes", () => {
  for (const { sheet } of sheets)
    for (const s of sheet.steps)
      if (/flashing-unlock|oem-unlock|flashing-lock/.test(s.code)) expect(s.caution).toBeTruthy();
});

test("the locking step stands only behind a first start of a wholly stock system", () => {
  const locking = sheets.filter(({ sheet }) => sheet.steps.some((s) => s.code.includes("flashing-lock")));
  expect(locking.length).toBeGreaterThan(2);
  for (const { sheet, way } of locking) {
    expect(way.operations.some((o) => ["install-rom", "install-gsi", "flash-recovery"].includes(o.kind))).toBe(false);
    const codes = sheet.steps.map((s) => s.code);
    expect(codes.indexOf("check.started")).toBeLessThan(codes.findIndex((c) => c.includes("flashing-lock")));
  }
});

test("a model's quirk is said once, at the first step where it shows", () => {
  const withQuirk = sheets.filter((s) => s.model.id === "velkora-vista20");
  for (const { sheet } of withQuirk) {
    const told = sheet.steps.filter((s) => s.says.includes("the picture is upside down"));
    const there = sheet.steps.findIndex((s) => s.code.startsWith("gate.product") || s.code.startsWith("gate.serialno"));
    expect(told).toHaveLength(there < 0 ? 0 : 1);
    if (told[0]) expect(sheet.steps.indexOf(told[0])).toBeLessThanOrEqual(there);
  }
  expect(withQuirk.some(({ sheet }) => sheet.steps.some((s) => s.says.includes("upside down")))).toBe(true);
  // What shows all the time stands among the cautions of the sheet.
  const always = sheets.filter((s) => s.model.id === "quillon-q3");
  expect(always.every(({ sheet }) => sheet.cautions.some((c) => c.includes("the charging port is loose")))).toBe(true);
});

test("slots in commands are the device's own", () => {
  for (const { sheet } of sheets)
    for (const s of sheet.steps) {
      const command = commandText(s);
      const slot = command && /_([ab])\b/.exec(command)?.[1];
      if (slot) expect(slot).toBe(demoScenario().devices.find((d) => d.tag === sheet.tag)?.slot ?? "a");
    }
});

describe("writers", () => {
  const [{ sheet }] = sheets;
  test("the sheet, the script and JSON tell of the same steps", () => {
    const markdown = writeSheet(sheet);
    const script = writeScript(sheet);
    expect(JSON.parse(writeRunbookJson(sheet))).toEqual(JSON.parse(JSON.stringify(sheet)));
    expect(script.match(/^if step \d+ \d+ /gm)?.length).toBe(sheet.steps.length);
    expect(markdown.match(/^\d+\. \*\*/gm)?.length).toBe(sheet.steps.length);
    expect(script.startsWith("#!/bin/sh\n")).toBe(true);
  });

  test("nobody's text can become a command", () => {
    const evil = "x'; rm -rf / #\n$(reboot)";
    const script = writeScript({
      ...sheet,
      tag: evil,
      steps: sheet.steps.map((s) => ({ ...s, says: evil, otherwise: evil, title: evil })),
    });
    for (const line of script.split("\n"))
      if (line.includes("rm -rf")) expect(line.includes("'\\''") || line.startsWith("#")).toBe(true);
    fc.assert(
      fc.property(fc.string(), (text) =>
        expect(shellQuote(text).slice(1, -1).replaceAll("'\\''", "")).not.toContain("'"),
      ),
    );
  });

  test("only the end of the serial number stands on the sheet's head", () => {
    expect(writeSheet(sheet)).toContain(`serial number …${"VKA1000101".slice(-4)}`);
  });

  test("durations as people say them", () => {
    expect([30, 300, 5400, 7200].map(durationText)).toEqual(["30 s", "5 min", "1.5 h", "2 h"]);
  });
});

test("checkout asks for the promise, and for precisely the hardware the need wants or the image breaks", () => {
  for (const { way, model, need } of sheets) {
    const items = checkItems(way, model, need);
    expect(items.find((i) => i.item === "release")?.expect).toBe(way.release);
    for (const h of need.hardware)
      if (model.hardware.includes(h)) expect(items.map((i) => i.item)).toContain(`hardware.${h}`);
    for (const f of way.faults)
      expect(items.find((i) => i.item === `hardware.${f.hardware}`)?.says).toContain("Known fault");
    if (model.form === "phone") expect(items.map((i) => i.item)).toContain("hardware.calls");
  }
});

test("a sheet's head: cautions, how it goes, the files; nothing of what there is not", () => {
  const [{ sheet }] = sheets.filter(({ sheet: each }) => each.files.length > 1 && each.cautions.length > 0);
  const head = (over: object = {}) => {
    const text = writeSheet({ ...sheet, wayBack: "", ...over });
    return text.slice(0, text.indexOf("## Steps")).split("\n").slice(3, -1);
  };
  const files = ["## Files", "", "| file | bytes | SHA-256 |", "|---|---:|---|"];
  const own = { image: "a", name: "b.img", bytes: 7, sha256: null };
  const all = { cautions: ["One", "Two"], odds: "9 in 10", files: [{ ...own, sha256: "f".repeat(64) }, own] };
  expect(head(all)).toEqual([
    ...["", "> One", "> Two", "", "Goes well: 9 in 10", "", ...files],
    ...[`| a/b.img | 7 | ${"f".repeat(64)} |`, "| a/b.img | 7 | not known |", ""],
  ]);
  expect(head({ cautions: [], odds: "", files: [] })).toEqual(["", ""]);
});

test("a sheet has its way back with the files it takes, and nothing of it where there is none", () => {
  const [{ sheet }] = sheets.filter(({ sheet: each }) => each.backFiles.length > 1);
  const [before, behind] = writeSheet(sheet).split("## The way back\n\n");
  expect(before).not.toContain(`- ${sheet.backFiles[0].image}/`);
  const lines = behind.slice(0, behind.indexOf("## Steps")).split("\n");
  expect(lines.slice(2)).toEqual([
    ...sheet.backFiles.map((f) => expect.stringContaining(`/${f.name.slice(0, 4)}`)),
    "",
    "",
  ]);
  expect(writeSheet({ ...sheet, backFiles: [] })).toContain(`## The way back\n\n${lines[0]}\n\n## Steps`);
  expect(writeSheet({ ...sheet, wayBack: "" })).not.toContain("The way back");
});
