import { groupedBy } from "~/app/server/planning/groupedBy";
import { Experience } from "~/core/experience/experience";
import { type Observation, observe, type RunRecord } from "~/core/experience/observe";
import { readRunbook } from "~/core/runbook/step";
import { readRevisions } from "~/store/catalogue";
import { allCheckoutEnds } from "~/store/checkouts";
import type { Store } from "~/store/database";
import { readPolicy } from "~/store/policy";
import { allRunEnds, allRuns, allSteps } from "~/store/runs";

/** A run that has ended, with the device and the decision it belongs to. */
export interface EndedRun extends RunRecord {
  readonly device: number;
  readonly decision: number;
}

interface Kept {
  readonly revision: number;
  readonly records: readonly EndedRun[];
  readonly observations: readonly Observation[];
}

const kept = new WeakMap<Store, Kept>();

/** Every run that has ended, at Checkout or before; read again only when another one ends. */
function ended(store: Store): Kept {
  const revision = readRevisions(store).experience;
  const before = kept.get(store);
  if (before?.revision === revision) return before;
  const steps = groupedBy(allSteps(store), ({ run }) => run);
  const ends = new Map(allRunEnds(store).map((e) => [e.run, e]));
  const checked = new Set(allCheckoutEnds(store).map((e) => e.run));
  const records = allRuns(store)
    .filter((r) => ends.has(r.id) || checked.has(r.id))
    .map((r): EndedRun => {
      const end = ends.get(r.id);
      return {
        run: r.id,
        device: r.device,
        decision: r.decision,
        runbook: readRunbook(r.runbook),
        begunAt: r.at,
        steps: steps.get(r.id) ?? [],
        end: end ? { result: end.result, place: end.place } : null,
      };
    });
  const fresh = { revision, records, observations: records.flatMap(observe) };
  kept.set(store, fresh);
  return fresh;
}

export const endedRuns = (store: Store) => ended(store).records;
export const observations = (store: Store) => ended(store).observations;

/** What the bench taught, for the planner. */
export const experienceOf = (store: Store) => new Experience(observations(store), readPolicy(store).policy.priorRuns);
