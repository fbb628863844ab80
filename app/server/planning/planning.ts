import { experienceOf } from "~/app/server/bench/experience";
import { housePolicy } from "~/app/server/planning/housePolicy";
import { byBatch } from "~/app/server/planning/keptBy";
import type { Catalogue } from "~/core/catalogue/catalogue";
import { type Model, modelTitle } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { type CurrentFacts, currentFacts, currentValue } from "~/core/device/lookUp";
import type { Policy } from "~/core/policy/policy";
import { type CatalogueIndex, indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { type Plan, Planner, planDevice, planGate, planSetAside } from "~/core/upgrade/plan";
import type { Way } from "~/core/upgrade/way";
import { readCatalogueRows, readRevisions } from "~/store/catalogue";
import type { Store } from "~/store/database";
import { type Standing, standingsIn } from "~/store/devices";
import { factsByDevice, factsOf } from "~/store/facts";

/** A device with its facts, its model where it is known, and its plan. */
export interface PlannedDevice {
  readonly standing: Standing;
  readonly facts: CurrentFacts;
  readonly model: Model | null;
  readonly need: Need | null;
  readonly plan: Plan;
}

/** What a device is called where its model is known, else as its list or label called it. */
export function deviceName(device: Pick<PlannedDevice, "model" | "facts">, otherwise = "unknown"): string {
  return device.model ? modelTitle(device.model) : (currentValue(device.facts, "model.name") ?? otherwise);
}

interface Kept {
  readonly catalogueRevision: number;
  readonly policyRevision: number;
  readonly experienceRevision: number;
  readonly catalogue: Catalogue;
  readonly index: CatalogueIndex;
  readonly planner: Planner;
  readonly devices: Map<number, PlannedDevice>;
  /** All devices as they stood at a revision of the lane. */
  all: { readonly lane: number; readonly devices: readonly PlannedDevice[] } | null;
}

const kept = new WeakMap<Store, Kept>();

/**
 * The planner with everything it has planned so far. It is thrown away when the catalogue or the policy moves; a single
 * device's plan when its facts, clearance or need move; the list of all devices when anything is written about one.
 */
function keptFor(store: Store): Kept & { readonly lane: number } {
  const revisions = readRevisions(store);
  const { catalogue: catalogueRevision, policy: policyRevision, experience: experienceRevision, lane } = revisions;
  const standing = kept.get(store);
  if (
    standing &&
    standing.catalogueRevision === catalogueRevision &&
    standing.policyRevision === policyRevision &&
    standing.experienceRevision === experienceRevision
  )
    return Object.assign(standing, { lane });
  const sameCatalogue = standing?.catalogueRevision === catalogueRevision;
  const catalogue = sameCatalogue ? standing.catalogue : readCatalogueRows(store);
  const index = sameCatalogue ? standing.index : indexCatalogue(catalogue);
  const fresh: Kept = {
    catalogueRevision,
    policyRevision,
    experienceRevision,
    catalogue,
    index,
    planner: plannerFor(store, index),
    devices: new Map(),
    all: null,
  };
  kept.set(store, fresh);
  return Object.assign(fresh, { lane });
}

/** A planner that knows the policy and what the bench taught. */
function plannerFor(store: Store, index: CatalogueIndex): Planner {
  const experience = experienceOf(store);
  return new Planner(index, housePolicy(store), (model) => experience.on(model.id));
}

export const catalogueOf = (store: Store): Catalogue => keptFor(store).catalogue;
export const indexOf = (store: Store): CatalogueIndex => keptFor(store).index;

/** All devices, planned; only what has changed is planned again. The same list comes back until something is written. */
export function allDevices(store: Store): readonly PlannedDevice[] {
  const cache = keptFor(store);
  if (cache.all?.lane === cache.lane) return cache.all.devices;
  const standings = standingsIn(store, null);
  const changed = standings.filter((s) => cache.devices.get(s.id)?.standing.revision !== s.revision);
  const many = new Map<string, ReturnType<typeof factsByDevice>>();
  const bulk = changed.length > 50;
  const devices = standings.map((standing) => {
    const before = cache.devices.get(standing.id);
    if (before && before.standing.revision === standing.revision) {
      if (sameStanding(before.standing, standing)) return before;
      const moved = { ...before, standing };
      cache.devices.set(standing.id, moved);
      return moved;
    }
    if (bulk && !many.has(standing.batch)) many.set(standing.batch, factsByDevice(store, standing.batch));
    const history = bulk ? (many.get(standing.batch)?.get(standing.id) ?? []) : factsOf(store, standing.id);
    const planned = planOne(cache, standing, currentFacts(history));
    cache.devices.set(standing.id, planned);
    return planned;
  });
  cache.all = { lane: cache.lane, devices };
  return devices;
}

/** The devices of a batch, or of all batches, planned. */
export function plannedDevices(store: Store, batch: string | null): readonly PlannedDevice[] {
  const all = allDevices(store);
  return batch === null ? all : (byBatch(all).get(batch) ?? []);
}

function sameStanding(a: Standing, b: Standing): boolean {
  return a.version === b.version && a.decision === b.decision && a.run === b.run;
}

/** One device, planned. */
export function plannedDevice(store: Store, standing: Standing): PlannedDevice {
  const cache = keptFor(store);
  const before = cache.devices.get(standing.id);
  if (before && before.standing.revision === standing.revision) return { ...before, standing };
  const planned = planOne(cache, standing, currentFacts(factsOf(store, standing.id)));
  cache.devices.set(standing.id, planned);
  return planned;
}

function planOne(cache: Kept, standing: Standing, facts: CurrentFacts): PlannedDevice {
  const need = (standing.need && cache.index.needs.get(standing.need)) || null;
  const identity = cache.index.identify(facts);
  const model = identity.kind === "one" ? identity.model : null;
  const plan = standing.aside
    ? planSetAside(standing.aside)
    : need
      ? cache.planner.plan({ facts, clearance: standing.clearance, need })
      : planWithoutNeed({ facts, clearance: standing.clearance }, cache.index);
  return { standing, facts, model, need, plan };
}

/** A device planned for another need than its own: what would be, if. */
export function planFor(store: Store, { standing, facts }: PlannedDevice, need: Need): Plan {
  if (standing.aside) return planSetAside(standing.aside);
  return keptFor(store).planner.plan({ facts, clearance: standing.clearance, need });
}

/** A device planned for a need as if its account lock were settled, where it is not: for what it could serve once it is. Never a plan to act on. */
export function planOnceClear(store: Store, { standing, facts }: PlannedDevice, need: Need): Plan {
  if (standing.aside) return planSetAside(standing.aside);
  const clearance = CLEARANCE_STATES[standing.clearance].opensGate ? standing.clearance : "confirmed-clear";
  return keptFor(store).planner.plan({ facts, clearance, need });
}

/** The ways of a device under another policy than the house's: at a bench where less stands, for one. */
export function waysUnder(store: Store, { standing, facts, need }: PlannedDevice, policy: Policy): readonly Way[] {
  if (!need || standing.aside) return [];
  const experience = experienceOf(store);
  const request = { facts, clearance: standing.clearance, need };
  return planDevice(request, indexOf(store), policy, (model) => experience.on(model.id)).ways;
}

/** Without a need nothing is compared; what comes before any need (the account lock, the model) speaks all the same. */
function planWithoutNeed(request: Parameters<typeof planGate>[0], index: CatalogueIndex): Plan {
  const gate = planGate(request, index);
  if ("plan" in gate) return gate.plan;
  return {
    model: gate.model.id,
    verdict: "check-first",
    says: "No group waits for it yet: choose a need",
    best: null,
    ways: [],
    stops: [],
    outdone: [],
    questions: [],
  };
}
