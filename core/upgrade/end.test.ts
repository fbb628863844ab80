import type { Model } from "~/core/catalogue/model";
import type { FactKey, FactValue } from "~/core/device/fact";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { makeCatalogue, makeFacts, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { isFinished } from "./end";
import { planDevice } from "./plan";
import type { Path, SearchWorld } from "./search";
import { after, initialState, type PlanState, planDeviceOf } from "./state";

interface EndCase {
  readonly model?: Partial<Record<Exclude<keyof Model, "id">, unknown>>;
  readonly facts?: Partial<Record<FactKey, FactValue>>;
  readonly state?: Partial<PlanState>;
  readonly path?: Partial<Path>;
  readonly policy?: Partial<Policy>;
  /** The need's app wants the services; they can be had for the ROM. */
  readonly services?: boolean;
  readonly hasServices?: boolean;
}

/** Whether a plan may end there: a stock device that runs, empty and locked, where a case does not say otherwise. */
function ends(c: EndCase): boolean {
  const model = makeModel({ id: "m", ...c.model });
  const index = indexCatalogue(makeCatalogue({ models: [model] }));
  const device = planDeviceOf(
    model,
    makeFacts({ "android.release": "10", "system.kind": "stock", "bootloader.locked": true, ...c.facts }),
  );
  const clean = { storage: "clean", started: "running", recovery: "stock", verification: "on", product: "present" };
  const state = after(initialState(device, index), { ...clean, ...c.state } as Partial<PlanState>);
  const path = { state, onlyOpened: false, untouched: false, ...c.path } as Path;
  const world = { device, index, policy: { ...DEFAULT_POLICY, ...c.policy } } as SearchWorld;
  const need = makeNeed({ apps: [{ name: "App", minApi: 29, services: c.services ?? false }] });
  return isFinished(path, world, need, () => c.hasServices ?? true);
}

const KILLS = { order: ["F1", "F2"], dangerous: [{ from: "F1", to: "F1", says: "kills", safe: "F2" }] };
const custom = { system: "custom", started: "fresh", image: "rom", locked: false, verification: "off" } as const;
const generic = { ...custom, system: "generic" } as const;

describe("where a plan may end", () => {
  test.each<[string, EndCase, boolean]>([
    ["a stock device that runs, empty", {}, true],
    ["somebody's data on it", { state: { storage: "donor" } }, false],
    ["the workshop's Wi-Fi on it", { state: { storage: "workshop" } }, false],
    ["a storage that must be formatted", { state: { storage: "must-format" } }, false],
    ["it does not start", { state: { started: "broken" } }, false],
    ["nothing on it", { state: { system: "none" } }, false],
    ["unlocked only to get round the reset", { path: { onlyOpened: true } }, false],
    ["firmware that kills boards", { model: { firmware: KILLS }, state: { firmware: "F1" } }, false],
    ["firmware that does not", { model: { firmware: KILLS }, state: { firmware: "F2" } }, true],
    ["stock that was never started", { state: { started: "fresh" } }, false],
    ["stock under another recovery", { state: { recovery: "rec" } }, false],
    ["stock without verification", { state: { verification: "off" } }, false],
    ["stock without its product partition", { state: { product: "removed" } }, false],
    ["written whole and locked", { state: { whole: true, locked: true } }, true],
    [
      "written whole, not locked, where the house locks",
      { model: { relock: true }, state: { whole: true, locked: false }, policy: { relock: "when-stock" } },
      false,
    ],
    [
      "written whole, not locked, where the house never does",
      { model: { relock: true }, state: { whole: true, locked: false }, policy: { relock: "never" } },
      true,
    ],
    [
      "written whole, a model that can't be locked again",
      { model: { relock: false }, state: { whole: true, locked: false }, policy: { relock: "when-stock" } },
      true,
    ],
    [
      "came unlocked: nobody knows whether it is whole",
      { model: { relock: true }, state: { whole: false, locked: false }, policy: { relock: "when-stock" } },
      true,
    ],
    ["a ROM, fresh", { state: custom }, true],
    ["a ROM that somebody set up since", { state: { ...custom, started: "running" } }, false],
    [
      "a ROM that was found on it, running",
      { state: { ...custom, started: "running" }, path: { untouched: true } },
      true,
    ],
    ["found on it, never started", { state: custom, path: { untouched: true } }, false],
    ["a ROM without the services that are wanted", { state: custom, services: true }, false],
    ["a ROM with them", { state: { ...custom, services: "add-on" }, services: true }, true],
    ["a ROM for which there are none", { state: custom, services: true, hasServices: false }, true],
    ["a generic system, fresh", { state: generic, services: true }, true],
    ["a generic system under verification", { state: { ...generic, verification: "on" } }, false],
  ])("%s", (_what, c, wanted) => expect(ends(c)).toBe(wanted));
});

test("a fuse that a foreign system blew stays blown: what asks for the verdict refuses for good", () => {
  const index = indexCatalogue(makeCatalogue({ models: [makeModel({ id: "m" })] }));
  const verdict = (blown: boolean, integrity: boolean) =>
    planDevice(
      {
        facts: makeFacts({
          "model.number": "N-m",
          "android.release": "10",
          "build.number": "B",
          "firmware.version": "F1",
          "system.kind": "stock",
          "bootloader.locked": true,
          "fuse.blown": blown,
        }),
        clearance: "confirmed-clear",
        need: makeNeed({ apps: [{ name: "Bank", minApi: 29, integrity }] }),
      },
      index,
      DEFAULT_POLICY,
    ).verdict;
  expect([verdict(false, true), verdict(true, false), verdict(true, true)]).toEqual([
    "good-enough",
    "good-enough",
    "not-this-way",
  ]);
});
