import { apiOf } from "~/core/android/releases";
import { foldCase } from "~/core/clearance/case";
import { lockPossible } from "~/core/clearance/proof";
import type { ClearanceState } from "~/core/clearance/states";
import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { checkItems } from "~/core/runbook/checkout";
import { factsMade, makesAt } from "~/core/runbook/progress";
import { writeRunbook } from "~/core/runbook/runbook";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { restsOn } from "~/core/upgrade/restsOn";
import { setAside } from "~/store/aside";
import { addBench } from "~/store/benches";
import { appendChecks, endCheckout } from "~/store/checkouts";
import { appendClearance, clearanceEvents } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import { decide } from "~/store/decisions";
import { addBatch, addDevices, findStanding } from "~/store/devices";
import { saveDonor } from "~/store/donors";
import { addGroup, addVolunteer, readOpening, saveOpening } from "~/store/evenings";
import { writeFacts } from "~/store/facts";
import { loadPack } from "~/store/packs";
import { savePolicy } from "~/store/policy";
import { appendStep, beginRun, findRun } from "~/store/runs";
import { writeSetting } from "~/store/setting";
import { inTransaction } from "~/store/transaction";
import { demoCatalogue } from "./catalogue";
import { type CaseStep, demoScenario, type Scenario, type ScenarioDevice, scenarioFacts } from "./scenario";

const DAY = (hour: number) => `T${String(hour).padStart(2, "0")}:30:00.000Z`;

/** How a clearance state came about, where the scenario does not tell. */
function storyOf(state: ClearanceState, day: string): CaseStep[] {
  const found = { day, event: "found-account" as const, evidence: "The set-up asks for an earlier account" };
  switch (state) {
    case "confirmed-clear":
      return [
        {
          day,
          event: "confirmed-clear",
          evidence: "Donor signed out at the desk; the set-up showed no earlier account",
          proofs: ["signed-out", "set-up-clean"],
        },
      ];
    case "present":
      return [found];
    case "asked":
      return [found, { day, event: "asked-owner", evidence: "Written to the address on the form", channel: "email" }];
    default:
      return [];
  }
}

/** Loads the demo scenario into an empty database, as one transaction. Its clock opens on the scenario's own day. */
export function loadDemo(store: Store) {
  const scenario = demoScenario();
  const person = (n: number) => scenario.people[n % scenario.people.length];
  inTransaction(store, () => {
    writeSetting(store, "demo.clock-ahead", String(Date.parse(scenario.clock) - Date.now()));
    const [first] = scenario.batches;
    const opening = { by: person(0), at: first.received + DAY(8) };
    loadPack(store, demoCatalogue(), opening, "Demo catalogue");
    const { organisation, letterFrom, collectionPoint } = scenario;
    savePolicy(store, { ...DEFAULT_POLICY, organisation, letterFrom, collectionPoint }, 0, opening);
    for (const bench of scenario.benches) addBench(store, bench, opening);
    saveOpening(store, scenario.opening, readOpening(store).version, opening);
    for (const volunteer of scenario.volunteers) addVolunteer(store, volunteer, opening);
    for (const group of scenario.groups) addGroup(store, group, opening);
    for (const [name, contact] of Object.entries(scenario.donors)) saveDonor(store, name, contact, 0, opening);
    for (const { donors, ...batch } of scenario.batches) addBatch(store, { ...batch, note: donors });
    scenario.devices.forEach((d, i) => {
      takeIn(store, scenario, d, i, person(i));
    });
    scenario.progress.forEach((p, i) => {
      const at = p.at ?? new Date(Date.parse(first.received + DAY(11)) + i * 20 * 60_000).toISOString();
      bringOn(store, scenario, p, { by: p.by ?? person(i), at });
    });
  });
}

function takeIn(store: Store, scenario: Scenario, d: ScenarioDevice, i: number, by: string) {
  const batch = scenario.batches.find((b) => b.id === d.batch) ?? scenario.batches[0];
  const hand = { by, at: new Date(Date.parse(batch.received + DAY(8)) + i * 60_000).toISOString() };
  addDevices(
    store,
    batch.id,
    [
      {
        tag: d.tag,
        serial: d.serial ?? null,
        imei: d.imei ?? null,
        donor: d.donor,
        need: d.need,
        facts: scenarioFacts(d, hand.at, by),
      },
    ],
    hand,
  );
  const id = findStanding(store, d.tag)?.id as number;
  (scenario.cases[d.tag] ?? storyOf(d.clearance, batch.received)).forEach((step, n) => {
    const { day, event, evidence, ...detail } = step;
    const seen = foldCase(clearanceEvents(store, id)).newest;
    const lock = lockPossible(d.release ? apiOf(d.release) : null, null);
    const wrong = appendClearance(store, d.tag, { event, evidence, detail, seen, lock }, { by, at: day + DAY(9 + n) });
    if (wrong) throw new Error(`${d.tag}: ${wrong}`);
  });
  if (findStanding(store, d.tag)?.clearance !== d.clearance) throw new Error(`${d.tag} is not ${d.clearance}`);
  if (d.aside) setAside(store, d.tag, d.aside, "Seen at arrival", hand);
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
  const decision = decide(
    store,
    standing.id,
    { way: plan.best, proposed: plan.best.id, reason: "", rests: restsOn(facts) },
    hand,
  );
  if (progress.steps === 0) return;
  const runbook = writeRunbook({
    tag: d.tag,
    serial: d.serial ?? null,
    model,
    facts,
    way: plan.best,
    index,
    policy: DEFAULT_POLICY,
  });
  beginRun(store, standing.id, decision, runbook, hand);
  const run = findRun(store, standing.id);
  if (!run) throw new Error("the run was not written");
  const count = progress.steps < 0 ? runbook.steps.length : progress.steps;
  let at = Date.parse(hand.at);
  for (let place = 0; place < count; place++) {
    const { code, usualSeconds } = runbook.steps[place];
    const begun = { by: hand.by, at: new Date(at).toISOString() };
    appendStep(store, run, { place, code, outcome: "begun", note: "" }, begun);
    // Hands are a little slower than the sheet says, and not always the same.
    at += Math.round(usualSeconds * 1000 * (0.9 + ((place * 7) % 5) / 10));
    const done = { by: hand.by, at: new Date(at).toISOString() };
    const row = appendStep(store, run, { place, code, outcome: "done", note: "" }, done);
    writeFacts(store, standing.id, factsMade(makesAt(runbook, place), done), row);
  }
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
