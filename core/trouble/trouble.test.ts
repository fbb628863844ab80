import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { writeRunbook } from "~/core/runbook/runbook";
import { commandText } from "~/core/runbook/writeSheet";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { modeAt } from "./modeAt";
import { pickable, planTrouble, type Where } from "./plan";
import { SEEN, SeenTrouble } from "./seen";

const index = indexCatalogue(demoCatalogue());

const sheets = demoScenario().devices.flatMap((d) => {
  const facts = currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x"));
  const need = index.needs.get(d.need);
  const plan = need && planDevice({ facts, clearance: "confirmed-clear", need }, index, DEFAULT_POLICY);
  const model = plan?.model ? index.models.get(plan.model) : undefined;
  if (!plan || !model) return [];
  return plan.ways.map((way) => ({
    tag: d.tag,
    model,
    runbook: writeRunbook({
      tag: d.tag,
      serial: d.serial ?? null,
      model,
      facts,
      way,
      index,
      policy: DEFAULT_POLICY,
    }),
  }));
});

const at = (sheet: (typeof sheets)[number], place: number): Where => ({
  runbook: sheet.runbook,
  place,
  model: sheet.model,
  serial: null,
  policy: DEFAULT_POLICY,
});

/** The open step of a demo device's sheet whose code begins so. */
function where(tag: string, code: string): Where {
  for (const sheet of sheets.filter((s) => s.tag === tag)) {
    const place = sheet.runbook.steps.findIndex((s) => s.code.startsWith(code));
    if (place >= 0) return at(sheet, place);
  }
  throw new Error(`${tag} has no step ${code}`);
}

test("every row of the handbook's table is reachable at some step of some demo sheet", () => {
  const reached = new Set(
    sheets.flatMap((sheet) => sheet.runbook.steps.flatMap((_s, place) => pickable(at(sheet, place)))),
  );
  expect([...reached].sort()).toEqual([...SeenTrouble.options].sort());
  expect(Object.keys(SEEN)).toHaveLength(11);
});

test("what is planned is steps or an end, goes never forward, and names real commands of the device's own interface", () => {
  let plans = 0;
  const odd: string[] = [];
  // Every third sheet: each device has several that are much alike.
  for (const sheet of sheets.filter((_s, i) => i % 3 === 0))
    for (const place of sheet.runbook.steps.keys())
      for (const seen of pickable(at(sheet, place))) {
        const plan = planTrouble(seen, at(sheet, place));
        plans++;
        const typed = plan.steps.map((s) => commandText(s) ?? "");
        const say = (what: string) => odd.push(`${sheet.runbook.tag}, step ${place + 1}, ${seen}: ${what}`);
        if (plan.steps.length === 0 && plan.next.kind === "on") say("nothing is done");
        if (plan.next.kind === "back" && plan.next.place > place) say("goes forward");
        if (sheet.model.flash !== "fastboot" && typed.some((t) => t.startsWith("fastboot"))) say("another interface");
        // Nothing that is tried when something is wrong locks a device.
        if (typed.some((t) => /\block\b/.test(t))) say("locks");
      }
  expect(odd).toEqual([]);
  expect(plans).toBeGreaterThan(400);
});

test("what can't be seen at a step can't be picked there", () => {
  const start = where("TH-021", "check.label");
  expect(pickable(start)).toEqual(["dark"]);
  expect(() => planTrouble("error-seven-addon", start)).toThrow(RangeError);
  expect(pickable(where("TH-009", "recovery.install.tallgrass"))).toContain("error-seven-system");
  expect(pickable(where("TH-009", "recovery.install.tallgrass"))).not.toContain("error-seven-addon");
  expect(pickable(where("TH-009", "recovery.install.larder"))).toContain("error-seven-addon");
});

test("the same error is an end on a ROM and a look on an add-on; the house may stop there too", () => {
  expect(planTrouble("error-seven-system", where("TH-009", "recovery.install.tallgrass")).next.kind).toBe("end");
  const addOn = where("TH-009", "recovery.install.larder");
  expect(planTrouble("error-seven-addon", addOn).next.kind).toBe("on");
  const strict = { ...addOn, policy: { ...DEFAULT_POLICY, errorSeven: "stop" as const } };
  expect(planTrouble("error-seven-addon", strict).next.kind).toBe("end");
});

test("the mode is told by the steps that were done, not by the one that is open", () => {
  const codes = (...list: string[]) => list.map((code) => ({ code }));
  const steps = codes("check.label", "adb.reboot-bootloader", "fastboot.reboot-fastboot#2", "recovery.start-system");
  expect([0, 1, 2, 3, 4].map((place) => modeAt(steps, place))).toEqual([
    "off",
    "off",
    "bootloader",
    "userspace",
    "android-without-debugging",
  ]);
});
