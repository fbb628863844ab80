import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
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
