import type { Fact } from "~/core/device/fact";
import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { factsMade, makesAt } from "~/core/runbook/progress";
import { writeRunbook } from "~/core/runbook/runbook";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { reportOf } from "./boot";
import { phoneFromCatalogue } from "./fromCatalogue";

const catalogue = demoCatalogue();
const index = indexCatalogue(catalogue);

test("a phone made from a finished device is what the device is now, for every way of the demo", () => {
  let ways = 0;
  for (const d of demoScenario().devices) {
    const history: Fact[] = scenarioFacts(d, "2026-11-16T00:00:00.000Z", "x");
    const facts = currentFacts(history);
    const need = index.needs.get(d.need);
    const plan = need && planDevice({ facts, clearance: "confirmed-clear", need }, index, DEFAULT_POLICY);
    const model = index.models.get(plan?.model ?? "");
    if (!plan || !model) continue;
    for (const way of plan.ways.filter((w) => w.questions.length === 0 && w.operations.length > 0)) {
      const sheet = writeRunbook({ tag: d.tag, serial: null, model, facts, way, index, policy: DEFAULT_POLICY });
      const made = sheet.steps.flatMap((_s, place) =>
        factsMade(makesAt(sheet, place), {
          by: "x",
          at: new Date(Date.UTC(2026, 10, 20) + place * 1000).toISOString(),
        }),
      );
      const state = phoneFromCatalogue({
        tag: d.tag,
        serial: null,
        model,
        facts: currentFacts([...history, ...made]),
        images: catalogue.images,
      });
      const report = reportOf(state);
      ways++;
      expect([d.tag, way.id, state.trail, report]).toMatchObject([
        d.tag,
        way.id,
        [],
        { alive: true, boots: true, release: way.release, api: way.api, storage: "clean", accountLock: false },
      ]);
      if (way.image) expect(report.image).toBe(way.image);
      expect(report.services).toBe(way.operations.some((o) => o.kind === "install-services"));
    }
  }
  expect(ways).toBeGreaterThan(60);
});
