import { type PlannedDevice, plannedDevice } from "~/app/server/planning/planning";
import { FACTS, FactKey, type FactValue, factText } from "~/core/device/fact";
import { isFinishedRun, type RunStanding, runThatCounts } from "~/core/lane/station";
import { type Makes, readRunbook } from "~/core/runbook/step";
import type { Rests } from "~/core/upgrade/restsOn";
import type { Way } from "~/core/upgrade/way";
import type { Store } from "~/store/database";
import { acceptedWay, type Standing } from "~/store/devices";
import { factsOfRun } from "~/store/facts";
import { findRun, runStanding } from "~/store/runs";

/** A fact that an accepted way rests on, and that has changed since. */
export interface ChangedFact {
  readonly fact: FactKey;
  readonly says: string;
  readonly was: string;
  readonly is: string;
}

/** Why an accepted way goes no further, and what the plan says now. */
export interface Stale {
  readonly changed: readonly ChangedFact[];
  readonly says: string;
  /** What the plan says now. */
  readonly now: string;
  /** The way that the plan proposes now; null where there is none without an open question. */
  readonly proposes: Way | null;
}

export interface Accepted {
  readonly planned: PlannedDevice;
  readonly way: Way | null;
  readonly run: RunStanding | null;
  /** null while the way still rests on what is so. */
  readonly stale: Stale | null;
}

const word = (value: FactValue | null | undefined) =>
  value === null || value === undefined ? "not known" : factText(value);

/** The accepted way of a device, the run that counts, and whether the ground under it has moved. */
export function acceptedOf(store: Store, standing: Standing): Accepted {
  const planned = plannedDevice(store, standing);
  const way = acceptedWay(standing);
  const run = runThatCounts(runStanding(store, standing.run), standing.decision);
  const stale = way && !(run && isFinishedRun(run)) ? staleness(store, planned, way, run) : null;
  return { planned, way, run, stale };
}

/** What the operation that is under way is about to make: a gate in its middle may read it before its last step is done. */
function madeNext(store: Store, standing: Standing, { run, done }: RunStanding): Makes {
  const row = findRun(store, standing.id);
  if (row?.id !== run) return {};
  const { steps, operations } = readRunbook(row.runbook);
  return operations[steps[done]?.operation ?? -1]?.makes ?? {};
}

function staleness(store: Store, planned: PlannedDevice, way: Way, run: RunStanding | null): Stale | null {
  const { standing, plan, facts } = planned;
  // What the run itself has made is meant to be so.
  const made = run ? Object.fromEntries(factsOfRun(store, run.run).map((f) => [f.key, f.value])) : {};
  const expected: Rests = { ...(standing.rests ? JSON.parse(standing.rests) : {}), ...made };
  const underway = run ? madeNext(store, standing, run) : {};
  const changed = Object.entries(expected).flatMap(([name, was]): ChangedFact[] => {
    const key = FactKey.safeParse(name);
    if (!key.success || was === null) return [];
    const now = facts.get(key.data);
    const { says } = FACTS[key.data];
    if (now?.contradictedBy)
      return [
        {
          fact: key.data,
          says,
          was: word(was),
          is: `read as ${word(now.value)}, later said to be ${word(now.contradictedBy.value)}`,
        },
      ];
    if (now && now.value === underway[name]) return [];
    return now?.value === was ? [] : [{ fact: key.data, says, was: word(was), is: word(now?.value) }];
  });
  const proposes = plan.best && plan.best.questions.length === 0 ? plan.best : null;
  if (changed.length) {
    const what = changed.map((c) => `${c.says} was ${c.was}, is ${c.is}`).join("; ");
    return {
      changed,
      proposes,
      now: plan.says,
      says: `The accepted way rests on what has changed: ${what}. The plan says now: ${plan.says}`,
    };
  }
  // In the middle of a run the plan is one from there on: only before it begins must the way still be one of the ways.
  if (run && run.done > 0) return null;
  const still = plan.ways.find((w) => w.id === way.id);
  if (still && still.questions.length === 0) return null;
  return {
    changed,
    proposes,
    now: plan.says,
    says: still
      ? `The accepted way rests on an open question now: ${still.questions[0].says}`
      : `The accepted way is no longer open. The plan says now: ${plan.says}`,
  };
}
