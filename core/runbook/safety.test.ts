import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { operationOf } from "~/core/ways/registry";
import { isWhole } from "~/core/ways/stock-package/wholeness";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { makeFacts } from "~/testing/catalogueEntries";
import { Bench } from "./bench";
import { checkItems } from "./checkout";
import { backUpIdentity } from "./commonSteps";
import { writeRunbook } from "./runbook";
import { commandText, durationText, insteadTexts, writeSheet } from "./writeSheet";

// The safety list: each test fails when the rule it names is taken away.
const index = indexCatalogue(demoCatalogue());
const policy = { ...DEFAULT_POLICY, batteryFloor: 72 };

const sheets = demoScenario().devices.flatMap((d) => {
  const facts = currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x"));
  const need = index.needs.get(d.need);
  const plan = need && planDevice({ facts, clearance: "confirmed-clear", need }, index, policy);
  const model = plan?.model ? index.models.get(plan.model) : undefined;
  if (!plan || !model) return [];
  return plan.ways.map((way) => ({
    d,
    way,
    model,
    computer: way.operations.some((o) => !operationOf(o.kind).withoutComputer),
    sheet: writeRunbook({
      tag: d.tag,
      serial: d.serial ?? null,
      imei: d.imei ?? null,
      model,
      facts,
      way,
      index,
      policy,
    }),
  }));
});
const overLead = sheets.filter((s) => s.computer);
const codes = (s: (typeof sheets)[number]) => s.sheet.steps.map((step) => step.code);

/** Place of the first step that changes anything on the device for good. */
const firstWrite = (s: (typeof sheets)[number]) =>
  s.sheet.steps.findIndex(
    (step) =>
      step.deed.kind === "flasher" ||
      step.code.startsWith("download.unlock") ||
      / (flash|erase|-w|flashing|oem|sideload|install|uninstall) ?/.test(`${commandText(step) ?? ""} `),
  );

test("a device without fastboot is never asked for it", () => {
  const others = sheets.filter((s) => s.model.flash !== "fastboot");
  expect(others.length).toBeGreaterThan(3);
  for (const s of others)
    for (const step of s.sheet.steps) {
      expect(step.code).not.toMatch(/^keys\.bootloader/);
      expect(commandText(step) ?? "").not.toMatch(/fastboot|reboot bootloader/);
    }
});

test("there are sheets to look at", () => {
  expect(overLead.length).toBeGreaterThan(60);
});

test("it is this device, with this build, before anything is written", () => {
  let withSerial = 0;
  for (const s of overLead) {
    const write = firstWrite(s);
    const before = s.sheet.steps.slice(0, write);
    if (s.d.serial) {
      withSerial++;
      expect(
        before.some(
          (g) => g.deed.kind === "gate" && g.deed.gate.kind === "getprop" && g.deed.gate.expect === s.d.serial,
        ),
      ).toBe(true);
    }
    if (s.d.build) expect(before.map((b) => b.code)).toContain("gate.ro.build.display.id");
    // What never leaves Android is told by serial and build number; the bootloader tells the board.
    if (s.way.writes) expect(before.some((b) => /^(gate\.product|download\.look|check\.chip)/.test(b.code))).toBe(true);
  }
  expect(withSerial).toBeGreaterThan(30);
});

test("the battery is read before the first write, against the house's own floor and the hard stop", () => {
  // A box has none: it runs from its power supply.
  const boxes = overLead.filter((s) => s.model.form === "box");
  expect(boxes.length).toBeGreaterThan(0);
  for (const s of boxes) expect(codes(s).some((c) => c.includes("battery"))).toBe(false);
  for (const s of overLead.filter((one) => !boxes.includes(one))) {
    const at = s.sheet.steps.findIndex((step) => step.code.startsWith("gate.battery"));
    expect(at).toBeGreaterThan(0);
    expect(at).toBeLessThan(firstWrite(s));
    const { deed } = s.sheet.steps[at];
    expect(deed.kind === "gate" && deed.gate).toMatchObject({ kind: "battery", floor: 72, stop: 30 });
  }
});

test("a phone's identity and radio version are written down before the first write, in every way", () => {
  const phones = overLead.filter((s) => s.model.form === "phone");
  expect(phones.length).toBeGreaterThan(40);
  for (const s of phones) {
    const before = codes(s).slice(0, firstWrite(s));
    expect(before).toContain("check.identity");
    expect(before).toContain("gate.record-gsm.version.baseband");
  }
});

test("without a computer the volunteer compares the serial number before the first write, and Checkout does behind it", () => {
  const byHand = sheets.filter((s) => !s.computer && s.way.operations.length > 0 && s.model.form !== "box");
  expect(byHand.length).toBeGreaterThan(5);
  for (const s of byHand) {
    const at = codes(s).indexOf("check.serial");
    const wipes = codes(s).indexOf("android.remove-accounts");
    expect([s.d.tag, at >= 0 && at < wipes]).toEqual([s.d.tag, true]);
    if (s.d.serial) expect(s.sheet.steps[at].title).toContain(s.d.serial.slice(-4));
  }
  const [{ way, model }] = byHand;
  expect(checkItems(way, model, null, { serialEnd: "0006" })).toContainEqual(
    expect.objectContaining({ item: "serial", must: true, says: expect.stringContaining("0006") }),
  );
});

test("a custom recovery is started by keys, and the identity partitions are saved before anything else is written", () => {
  const custom = sheets.filter((s) =>
    s.way.operations.some(
      (o) => o.kind === "flash-recovery" && index.images.get(o.image ?? "")?.image.flavour === "custom",
    ),
  );
  expect(custom.length).toBeGreaterThan(5);
  for (const s of custom) {
    const list = codes(s);
    const keys = list.indexOf("keys.recovery");
    const saved = list.indexOf("gate.keep-identity");
    const install = list.findIndex((c) => c.startsWith("adb.push"));
    expect(keys).toBeGreaterThan(0);
    expect(saved).toBeGreaterThan(keys);
    expect(saved).toBeLessThan(install);
  }
});

test("a model whose identity partitions nobody has named has them saved in the recovery's menu", () => {
  const [model] = index.models.values();
  const bench = new Bench({ ...model, identity: [] }, "recovery", null, DEFAULT_POLICY);
  backUpIdentity(bench);
  expect(bench.steps.map((s) => s.code)).toEqual(["recovery.backup-identity"]);
});

test("nothing is locked that was not written whole and started in the same run, and by the model's own command", () => {
  const locking = sheets.filter((s) => s.way.operations.some((o) => o.kind === "relock"));
  expect(locking.length).toBeGreaterThan(2);
  for (const s of locking) {
    const stock = s.way.operations.find((o) => o.kind === "flash-stock");
    const image = index.images.get(stock?.image ?? "")?.image;
    expect(image && isWhole(image, s.model)).toBe(true);
    const lock = s.sheet.steps.find((step) => step.title === "Lock the bootloader again");
    expect(lock && commandText(lock)).toBe(`fastboot ${s.model.unlock.command.replace("unlock", "lock")}`);
  }
});

test("where the client can't make a file system, erasing takes its place", () => {
  const format = overLead.flatMap((s) => s.sheet.steps.filter((step) => commandText(step) === "fastboot -w"));
  expect(format.length).toBeGreaterThan(20);
  for (const step of format) expect(insteadTexts(step)).toEqual(["fastboot erase userdata", "fastboot erase metadata"]);
});

test("a way that writes says its way back before the first step", () => {
  for (const s of overLead.filter((x) => x.way.writes)) {
    expect(s.sheet.wayBack).not.toBe("");
    expect(writeSheet(s.sheet).indexOf("## The way back")).toBeLessThan(writeSheet(s.sheet).indexOf("## Steps"));
    if (s.way.back) expect(s.sheet.backFiles.length).toBeGreaterThan(0);
  }
});

test("gates on the lock say what is wanted", () => {
  const titles = new Set(overLead.flatMap((s) => s.sheet.steps.map((step) => step.title)));
  for (const title of ["Check: still locked", "Check: the bootloader is unlocked", "Check: locked again"])
    expect([...titles]).toContain(title);
  expect([...titles].filter((t) => /locked is (yes|no)/.test(t))).toEqual([]);
});

test("gates say what is wanted; waiting for days has no “latest 5 min”", () => {
  for (const s of overLead)
    for (const step of s.sheet.steps) if (step.deed.kind === "gate") expect(step.says.length).toBeGreaterThan(10);
  const waits = overLead.flatMap((s) => s.sheet.steps.filter((step) => step.code === "android.wait-unlock"));
  expect(waits.length).toBeGreaterThan(0);
  for (const step of waits) expect(step.latestSeconds).toBeGreaterThan(7 * 86_400);
  expect(durationText(7 * 86_400)).toBe("7 days");
});

test("after the days of waiting battery, build and accounts are looked at again before the bootloader is unlocked", () => {
  const waiting = overLead.filter((s) => s.way.operations.some((o) => o.kind === "wait-unlock"));
  expect(waiting.length).toBeGreaterThan(0);
  for (const s of waiting) {
    const list = codes(s);
    const between = list.slice(list.indexOf("android.wait-unlock"), list.indexOf("bootloader.confirm-unlock"));
    for (const code of ["gate.battery#2", "gate.ro.build.display.id#2", "android.remove-workshop-account"])
      expect(between).toContain(code);
  }
});

test("commands stand in the raw sheet as they are typed", () => {
  const sheet = sheets.find((s) => s.sheet.files.some((f) => f.name.includes("vendor_boot")));
  const text = sheet ? writeSheet(sheet.sheet) : "";
  expect(text).toContain("vendor_boot");
  expect(text).not.toContain("vendor\\_boot");
  const dialled = sheets.find((s) => s.sheet.steps.some((step) => step.title.includes("*#06#")));
  expect(dialled && writeSheet(dialled.sheet)).toContain("Dial `*#06#`: ");
});

test("a device that does not start is told by its bootloader, charged first, and never asked to open its settings", () => {
  const d = demoScenario().devices.find((x) => x.tag === "TH-003");
  const need = index.needs.get(d?.need ?? "");
  if (!d || !need) throw new Error("no TH-003");
  const facts = new Map([
    ...currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x")),
    ...makeFacts({ "system.starts": "no", "system.kind": "none" }),
  ]);
  const plan = planDevice({ facts, clearance: "confirmed-clear", need }, index, policy);
  const model = index.models.get(plan.model ?? "");
  if (!plan.best || !model) throw new Error(plan.says);
  const sheet = writeRunbook({ tag: d.tag, serial: d.serial ?? null, model, facts, way: plan.best, index, policy });
  const list = sheet.steps.map((s) => s.code);
  const start = list.indexOf("check.started");
  expect(list.slice(0, start).some((c) => c.startsWith("android."))).toBe(false);
  expect(list.slice(0, 5)).toEqual(["gate.files", "check.label", "check.charged", "keys.bootloader", "gate.serialno"]);
});
