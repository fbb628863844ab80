import { apiOf } from "~/core/android/releases";
import { DEFAULT_POLICY } from "~/core/catalogue/policy";
import type { ClearanceEventKind, ClearanceState } from "~/core/clearance/clearance";
import { currentFacts } from "~/core/device/lookUp";
import { factsAfterRun } from "~/core/runbook/afterRun";
import { checkItems } from "~/core/runbook/checkout";
import { writeRunbook } from "~/core/runbook/runbook";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { replaceCatalogue } from "~/store/catalogue";
import { appendClearance } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import { addBatch, addDevices, appendFacts, findStanding } from "~/store/devices";
import { appendChecks, appendStep, beginRun, decide, endCheckout, findRun } from "~/store/runs";
import { demoCatalogue } from "./catalogue";
import { demoScenario, type Scenario, scenarioFacts } from "./scenario";

/** How each clearance state of the scenario came about. */
const STORIES: Partial<Record<ClearanceState, readonly { event: ClearanceEventKind; evidence: string }[]>> = {
  "confirmed-clear": [
    { event: "confirmed-clear", evidence: "Donor signed out at the desk; the set-up showed no earlier account" },
  ],
  present: [{ event: "found-account", evidence: "The set-up asks for an account that ends in …ow" }],
  asked: [
    { event: "found-account", evidence: "The set-up asks for an earlier account" },
    { event: "asked-owner", evidence: "Message left at the drop-off desk's address" },
  ],
};

/** Loads the demo scenario into an empty database, as one transaction. */
export function loadDemo(store: Store) {
  const scenario = demoScenario();
  const at = (minutes: number) =>
    new Date(Date.parse(`${scenario.batch.received}T08:30:00.000Z`) + minutes * 60_000).toISOString();
  const hand = (minutes: number): Hand => ({ by: scenario.people[minutes % scenario.people.length], at: at(minutes) });
  store.transaction(() => {
    replaceCatalogue(store, demoCatalogue(), hand(0));
    addBatch(store, {
      id: scenario.batch.id,
      title: scenario.batch.title,
      received: scenario.batch.received,
      note: scenario.batch.donors,
    });
    scenario.devices.forEach((d, i) => {
      const by = hand(i);
      addDevices(
        store,
        scenario.batch.id,
        [
          {
            tag: d.tag,
            serial: d.serial ?? null,
            imei: d.imei ?? null,
            donor: d.donor,
            need: d.need,
            facts: scenarioFacts(d, by.at, by.by),
          },
        ],
        by,
      );
      for (const step of STORIES[d.clearance] ?? []) {
        const seen = findStanding(store, d.tag)?.clearance as ClearanceState;
        const wrong = appendClearance(
          store,
          d.tag,
          { ...step, seen, api: d.release ? apiOf(d.release) : null },
          hand(60 + i),
        );
        if (wrong) throw new Error(`${d.tag}: ${wrong}`);
      }
    });
    scenario.progress.forEach((p, i) => {
      bringOn(store, scenario, p, hand(180 + i * 20));
    });
  })();
}

function bringOn(store: Store, scenario: Scenario, progress: Scenario["progress"][number], hand: Hand) {
  const index = indexCatalogue(demoCatalogue());
  const d = scenario.devices.find((x) => x.tag === progress.tag);
  const standing = findStanding(store, progress.tag);
  const need = d && index.needs.get(d.need);
  if (!d || !standing || !need) throw new Error(`no demo device ${progress.tag}`);
  const facts = currentFacts(scenarioFacts(d, hand.at, hand.by));
  const plan = planDevice({ facts, clearance: standing.clearance, need }, index, DEFAULT_POLICY);
  const model = plan.model && index.models.get(plan.model);
  if (!plan.best || !model) throw new Error(`${progress.tag} has no way to begin with`);
  const decision = decide(store, standing.id, { way: plan.best, proposed: plan.best.id, reason: "" }, hand);
  if (progress.steps === 0) return;
  const runbook = writeRunbook({
    tag: d.tag,
    serial: d.serial ?? null,
    model,
    facts,
    way: plan.best,
    image: (id) => index.images.get(id)?.image,
    policy: DEFAULT_POLICY,
  });
  beginRun(store, standing.id, decision, runbook, hand);
  const run = findRun(store, standing.id);
  if (!run) throw new Error("the run was not written");
  const count = progress.steps < 0 ? runbook.steps.length : progress.steps;
  for (let place = 0; place < count; place++)
    appendStep(store, run, { place, code: runbook.steps[place].code, outcome: "done", note: "" }, hand);
  if (count === runbook.steps.length)
    appendFacts(
      store,
      standing.id,
      factsAfterRun(plan.best, (id) => index.images.get(id)?.image, hand),
    );
  if (!progress.checkout) return;
  appendChecks(
    store,
    standing.id,
    run.id,
    checkItems(plan.best, model, need).map((c) => ({ item: c.item, measured: c.expect ?? "", result: "ok" })),
    hand,
  );
  endCheckout(store, standing.id, run.id, { result: "done", note: "" }, hand);
}
