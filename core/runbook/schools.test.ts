import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { makesAtStop } from "./progress";
import { writeRunbook } from "./runbook";
import { commandText } from "./writeSheet";

// Schools that change the sheet and not the plan: both sides, side by side.
const index = indexCatalogue(demoCatalogue());

function sheetOf(tag: string, image: string, change: Partial<Policy>) {
  const policy = { ...DEFAULT_POLICY, ...change };
  const d = demoScenario().devices.find((one) => one.tag === tag);
  const need = index.needs.get(d?.need ?? "");
  if (!d || !need) throw new Error(tag);
  const facts = currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x"));
  const plan = planDevice({ facts, clearance: "confirmed-clear", need }, index, policy);
  const way = plan.ways.find((w) => w.image === image);
  const model = index.models.get(plan.model ?? "");
  if (!way || !model) throw new Error(`${tag} has no way to ${image}`);
  return writeRunbook({ tag, serial: d.serial ?? null, model, facts, way, index, policy }).steps;
}
const codes = (change: Partial<Policy>) => sheetOf("TH-006", "tallgrass-12-lumen-r2", change).map((s) => s.code);

test("wiping before a ROM: the four parts, or a factory reset; nothing else differs", () => {
  const [advanced, factory] = [codes({ wipeBefore: "advanced" }), codes({ wipeBefore: "factory" })];
  expect(advanced).toContain("recovery.wipe-advanced");
  expect(factory).not.toContain("recovery.wipe-advanced");
  expect(factory.map((c) => (c === "recovery.factory-reset" ? "recovery.wipe-advanced" : c))).toEqual(advanced);
});

test("writing each part once or twice: the second write is the same command, right behind the first", () => {
  const writes = (repeatWrite: Policy["repeatWrite"]) =>
    sheetOf("TH-003", "vista20-stock-12", { repeatWrite })
      .map((s) => commandText(s) ?? "")
      .filter((c) => / flash /.test(c));
  const once = writes("once");
  expect(once.length).toBeGreaterThan(5);
  expect(writes("twice")).toEqual(once.flatMap((c) => [c, c]));
});

test("formatting after the system: a sideloaded ROM is formatted once more only where the house wants it", () => {
  const formats = (wipeAfter: Policy["wipeAfter"]) =>
    sheetOf("TH-017", "wicklight-15-m7", { wipeAfter }).filter((s) => s.code.startsWith("recovery.format-data")).length;
  expect(formats("where-due")).toBe(1);
  expect(formats("always")).toBe(2);
});

test("forced encryption: off by the model's method where demanded; always left on, the image comes on a stick", () => {
  const of = (encryption: Policy["encryption"]) =>
    sheetOf("SF-42", "plainsong-14-arm64-small", { encryption }).map((s) => s.code);
  expect(of("where-demanded").filter((c) => c.startsWith("recovery.encryption-off"))).toHaveLength(2);
  expect(of("off").filter((c) => c.startsWith("recovery.encryption-off"))).toHaveLength(2);
  const left = of("leave");
  expect(left.some((c) => c.startsWith("recovery.encryption-off"))).toBe(false);
  expect(left).toContain("gate.stick-made");
  expect(left.some((c) => c.startsWith("adb.push"))).toBe(false);
});

test("slots of a stock package: bootloader and radio to both, or everything to the active one", () => {
  const both = (slotsWritten: Policy["slotsWritten"]) =>
    sheetOf("TH-003", "vista20-stock-12", { slotsWritten }).filter((s) => commandText(s)?.includes("--slot=all"))
      .length;
  expect(both("both")).toBeGreaterThan(3);
  expect(both("active")).toBe(0);
});

test("backup: identity always, the system too, or nothing", () => {
  const of = (backup: Policy["backup"]) => codes({ backup }).filter((c) => /keep-identity|backup/.test(c));
  expect(of("identity")).toEqual(["gate.keep-identity"]);
  expect(of("system-too")).toEqual(["recovery.backup-system", "gate.keep-identity"]);
  expect(of("nothing")).toEqual([]);
});

test("“error 7” on an add-on: look, or stop; on a ROM it is always a stop", () => {
  const says = (errorSeven: Policy["errorSeven"], image: string) =>
    sheetOf("TH-009", "tallgrass-11-lumen", { errorSeven }).find((s) => s.code === `recovery.install.${image}`)
      ?.otherwise;
  expect(says("look", "larder-11-arm64")).toContain("look whether the services are on system");
  expect(says("stop", "larder-11-arm64")).toContain("wrong device, wrong base or no room");
  expect(says("look", "tallgrass-11-lumen")).toContain("wrong device, wrong base or no room");
});

test("a second phone as the host: the same commands, said for it, and the connection is allowed again behind a restart", () => {
  const [computer, second] = (["computer", "second-phone"] as const).map((host) =>
    sheetOf("TH-021", "plainsong-14-arm64", { host }),
  );
  expect(second.map((s) => commandText(s))).toEqual(computer.map((s) => commandText(s)));
  const restart = second.find((s) => s.code.startsWith("fastboot.reboot-fastboot"));
  expect(restart?.says).toContain("the connection has to be allowed again");
  expect(computer.some((s) => s.says.includes("second phone"))).toBe(false);
});

test("a newer build of the ROM that runs: wiped before it, or written over; another ROM is wiped in any case", () => {
  const wipes = (sameRom: Policy["sameRom"], running: string) => {
    const m = makeModel({ id: "m" });
    const rom = (id: string, api: number, line: string) =>
      makeImage({ id, kind: "rom", models: ["m"], installs: "packages", line, services: true }, api);
    const recovery = makeImage(
      {
        id: "rec",
        kind: "recovery",
        models: ["m"],
        flavour: "custom",
        files: [{ name: "r.img", partition: "recovery", bytes: 1000, expanded: null }],
      },
      33,
    );
    const images = [recovery, rom("old", 32, "a"), rom("other", 32, "b"), rom("new", 33, "a")];
    const own = indexCatalogue(makeCatalogue({ models: [m], images }));
    const known = makeFacts({
      "model.number": "N-m",
      "android.release": "12",
      "system.kind": "custom",
      "system.image": running,
      "bootloader.locked": false,
      "recovery.image": "rec",
      "services.addon": "none",
      "accounts.on": false,
    });
    const policy = { ...DEFAULT_POLICY, sameRom };
    const need = makeNeed({ hardware: ["wifi"] });
    const way = planDevice({ facts: known, clearance: "confirmed-clear", need }, own, policy).ways.find(
      (w) => w.image === "new",
    );
    if (!way) throw new Error("no way to the new build");
    const sheet = writeRunbook({ tag: "x", serial: null, model: m, facts: known, way, index: own, policy });
    return sheet.steps.filter((step) => step.code === "recovery.wipe-advanced").length;
  };
  expect(wipes("clean", "old")).toBe(1);
  expect(wipes("over", "old")).toBe(0);
  expect(wipes("over", "other")).toBe(1);
});

test("how encryption goes off is the model's: the command twice, or the four parts wiped", () => {
  const of = (encryption: "script" | "wipe") => {
    const catalogue = demoCatalogue();
    const models = catalogue.models.map((m) => (m.download ? { ...m, download: { ...m.download, encryption } } : m));
    const own = indexCatalogue({ ...catalogue, models });
    const d = demoScenario().devices.find((one) => one.tag === "SF-42");
    const need = own.needs.get(d?.need ?? "");
    const model = own.models.get("sarnholt-dale6");
    if (!d || !need || !model) throw new Error("SF-42");
    const facts = currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x"));
    const plan = planDevice({ facts, clearance: "confirmed-clear", need }, own, DEFAULT_POLICY);
    const way = plan.ways.find((w) => w.image === "plainsong-14-arm64-small");
    if (!way) throw new Error("no way");
    const sheet = writeRunbook({ tag: "x", serial: null, model, facts, way, index: own, policy: DEFAULT_POLICY });
    return sheet.steps.map((s) => s.code).filter((c) => /encryption-off|wipe-keys/.test(c));
  };
  expect(of("script")).toEqual(["recovery.encryption-off", "recovery.encryption-off#2"]);
  expect(of("wipe")).toEqual(["recovery.wipe-keys"]);
});

test("a generic image that was written and does not start leaves its flavour behind, one that was not written does not", () => {
  const treated = demoScenario().devices.find((one) => one.tag === "TH-021");
  const need = index.needs.get(treated?.need ?? "");
  const model = index.models.get("brisk-slate10");
  if (!treated || !need || !model) throw new Error("TH-021");
  const facts = currentFacts(scenarioFacts(treated, "2026-11-16T00:00:00Z", "x"));
  const plan = planDevice({ facts, clearance: "confirmed-clear", need }, index, DEFAULT_POLICY);
  const way = plan.ways.find((w) => w.image === "plainsong-14-arm64");
  if (!way) throw new Error("no way");
  const sheet = writeRunbook({ tag: "x", serial: null, model, facts, way, index, policy: DEFAULT_POLICY });
  const at = (code: string) => sheet.steps.findIndex((s) => s.code.startsWith(code));
  expect(makesAtStop(sheet, at("check.started"), true, "not")["gsi.failed"]).toBe("light");
  expect(makesAtStop(sheet, at("check.started"), true, "as-before")).not.toHaveProperty("gsi.failed");
  expect(makesAtStop(sheet, at("android.allow-unlocking"), true, "not")).not.toHaveProperty("gsi.failed");
});
