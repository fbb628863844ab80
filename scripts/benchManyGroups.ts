import { divisionQuestion } from "~/app/server/division/question";
import type { Question } from "~/core/allocate/question";
import { apiOf } from "~/core/android/releases";
import { foldCase } from "~/core/clearance/case";
import { lockPossible } from "~/core/clearance/proof";
import { Chance } from "~/core/schedule/chance";
import { loadDemo } from "~/demo/load";
import { demoScenario, type ScenarioDevice, scenarioFacts } from "~/demo/scenario";
import { addBench } from "~/store/benches";
import { appendClearance, clearanceEvents } from "~/store/clearance";
import { openStore, type Store } from "~/store/database";
import { addDevices, findStanding } from "~/store/devices";
import { addGroup, addVolunteer } from "~/store/evenings";
import { inTransaction } from "~/store/transaction";

/** How many times the demo's devices come, and its volunteers and benches; how many groups wait. */
const DEVICES = 9;
const TIMES = 3;
const GROUPS = 12;
const DAY = 86_400_000;
const SCENARIO = demoScenario();

/**
 * What a coordinator has who has many more devices than the demo, but of the same kinds: some 580 devices that may go to
 * twelve groups, with the ways, chances and minutes that the lane itself works out.
 */
export function manyGroups(seed: number): Question {
  const store = openStore(":memory:");
  const { clock, devices, volunteers, benches, people } = SCENARIO;
  const at = new Date(clock);
  const hand = { by: people[0], at: clock };
  const chance = new Chance(seed);
  loadDemo(store);
  inTransaction(store, () => {
    for (let time = 1; time < DEVICES; time++)
      for (const device of devices) takeIn(store, device, `${time}-${device.tag}`, chance);
    for (let k = SCENARIO.groups.length; k < GROUPS; k++) addGroup(store, waiting(k, at, chance), hand);
    for (let time = 1; time < TIMES; time++) {
      for (const volunteer of volunteers)
        addVolunteer(store, { ...volunteer, name: `${volunteer.name} ${time}` }, hand);
      for (const bench of benches) addBench(store, { ...bench, name: `${bench.name} ${time}` }, hand);
    }
  });
  const { question } = divisionQuestion(store, at);
  store.close();
  return question;
}

/** Somewhat more than half are cleared, a quarter is asked for, and nobody has looked at the others yet. */
function takeIn(store: Store, device: ScenarioDevice, tag: string, chance: Chance): void {
  const { batches, people, clock } = SCENARIO;
  const at = new Date(Date.parse(clock) - (1 + chance.below(20)) * DAY).toISOString();
  const hand = { by: people[0], at };
  const donor = `donor ${chance.below(60)}`;
  const facts = scenarioFacts(device, at, hand.by);
  addDevices(store, batches[0].id, [{ tag, serial: null, imei: null, donor, need: device.need, facts }], hand);
  const id = findStanding(store, tag)?.id as number;
  const lock = lockPossible(device.release ? apiOf(device.release) : null, null);
  const say = (step: Omit<Parameters<typeof appendClearance>[2], "seen" | "lock">) => {
    const { newest: seen } = foldCase(clearanceEvents(store, id));
    const wrong = appendClearance(store, tag, { ...step, seen, lock }, hand);
    if (wrong) throw new Error(wrong);
  };
  const luck = chance.next();
  const proofs = ["signed-out", "set-up-clean"] as const;
  if (luck < 0.55)
    say({ event: "confirmed-clear", evidence: "signed out at the desk", detail: { proofs: [...proofs] } });
  else if (luck < 0.8) {
    say({ event: "found-account", evidence: "the set-up asks", detail: {} });
    say({ event: "asked-owner", evidence: "written to", detail: { channel: "email" } });
  }
}

function waiting(k: number, at: Date, chance: Chance) {
  const { groups } = SCENARIO;
  const wanted = 8 + chance.below(40);
  return {
    ...groups[k % groups.length],
    name: `Group ${k}`,
    need: groups[chance.below(groups.length)].need,
    wanted,
    least: Math.ceil(wanted * (0.3 + 0.4 * chance.next())),
    by: new Date(at.getTime() + (5 + chance.below(20)) * DAY).toISOString().slice(0, 10),
    weight: 1 + chance.below(3),
    spares: chance.below(3),
    alike: chance.below(3) === 0,
  };
}
