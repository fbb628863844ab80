import type { Catalogue } from "~/core/catalogue/catalogue";
import { identify } from "~/core/catalogue/identify";
import type { Model } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";
import { type CurrentFacts, currentFacts } from "~/core/device/lookUp";
import { type CatalogueIndex, indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { type Plan, Planner } from "~/core/upgrade/plan";
import { readCatalogueRows, readRevisions } from "~/store/catalogue";
import type { Store } from "~/store/database";
import { factsByDevice, factsOf, type Standing, standingsIn } from "~/store/devices";
import { readPolicy } from "~/store/policy";

/** A device with its facts, its model where it is known, and its plan. */
export interface PlannedDevice {
  readonly standing: Standing;
  readonly facts: CurrentFacts;
  readonly model: Model | null;
  readonly need: Need | null;
  readonly plan: Plan;
}

interface Kept {
  readonly catalogueRevision: number;
  readonly policyRevision: number;
  readonly catalogue: Catalogue;
  readonly index: CatalogueIndex;
  readonly planner: Planner;
  readonly devices: Map<number, PlannedDevice>;
}

const kept = new WeakMap<Store, Kept>();

/**
 * The planner with everything it has planned so far. It is thrown away when the catalogue or the policy moves; a single
 * device's plan when its facts, clearance or need move.
 */
function keptFor(store: Store): Kept {
  const { catalogue: catalogueRevision, policy: policyRevision } = readRevisions(store);
  const standing = kept.get(store);
  if (standing && standing.catalogueRevision === catalogueRevision && standing.policyRevision === policyRevision)
    return standing;
  const sameCatalogue = standing?.catalogueRevision === catalogueRevision;
  const catalogue = sameCatalogue ? standing.catalogue : readCatalogueRows(store);
  const index = sameCatalogue ? standing.index : indexCatalogue(catalogue);
  const fresh: Kept = {
    catalogueRevision,
    policyRevision,
    catalogue,
    index,
    planner: new Planner(index, readPolicy(store).policy),
    devices: new Map(),
  };
  kept.set(store, fresh);
  return fresh;
}

export const catalogueOf = (store: Store): Catalogue => keptFor(store).catalogue;
export const indexOf = (store: Store): CatalogueIndex => keptFor(store).index;

/** All devices of a batch (or of all batches), planned; only what has changed is planned again. */
export function plannedDevices(store: Store, batch: string | null): PlannedDevice[] {
  const standings = standingsIn(store, batch);
  const cache = keptFor(store);
  const changed = standings.filter((s) => cache.devices.get(s.id)?.standing.revision !== s.revision);
  const many = new Map<string, ReturnType<typeof factsByDevice>>();
  const bulk = changed.length > 50;
  return standings.map((standing) => {
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
  const identity = identify(cache.catalogue.models, facts);
  const model = identity.kind === "one" ? identity.model : null;
  const plan: Plan = need
    ? cache.planner.plan({ facts, clearance: standing.clearance, need })
    : {
        model: model?.id ?? null,
        verdict: "check-first",
        says: "No group waits for it yet: choose a need",
        best: null,
        ways: [],
        stops: [],
        questions: [],
      };
  return { standing, facts, model, need, plan };
}
