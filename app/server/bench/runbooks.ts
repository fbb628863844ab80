import { housePolicy } from "~/app/server/planning/housePolicy";
import { whereaboutsOf } from "~/app/server/planning/lane";
import { indexOf, waysUnder } from "~/app/server/planning/planning";
import { asClause } from "~/core/catalogue/clause";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { type BenchFields, hostWords } from "~/core/lane/bench";
import { DEVICE_END_WORDS, outcomeOf } from "~/core/lane/station";
import { writeRunbook } from "~/core/runbook/runbook";
import { type Runbook, readRunbook } from "~/core/runbook/step";
import type { Way } from "~/core/upgrade/way";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { identityCopies } from "~/store/identityCopies";
import { findRun, runStanding } from "~/store/runs";
import { acceptedOf, type Stale } from "./accepted";

export type RunbookAnswer =
  | {
      readonly ok: true;
      readonly runbook: Runbook;
      readonly way: Way;
      readonly accepted: boolean;
      /** Steps of the run that counts that are done; 0 where none was begun. */
      readonly done: number;
    }
  | {
      readonly ok: false;
      readonly status: 404 | 409;
      readonly code: "no-such-device" | "no-runbook" | "clearance-open" | "finished" | "stale";
      readonly says: string;
      readonly stale?: Stale;
    };

/**
 * The sheet of a device's run, else of its accepted way, else of the proposed one; or in one sentence why there is none.
 *
 * @param bench where it is to be carried out, before a run has begun: the sheet is written for what stands there
 */
export function runbookOf(store: Store, tag: string, bench?: Pick<BenchFields, "name" | "host">): RunbookAnswer {
  const standing = findStanding(store, tag);
  if (!standing) return { ok: false, status: 404, code: "no-such-device", says: `There is no device ${tag}` };
  const gate = CLEARANCE_STATES[standing.clearance];
  if (!gate.opensGate)
    return {
      ok: false,
      status: 409,
      code: "clearance-open",
      says: `${standing.tag}: ${asClause(gate.says)}. Nothing is planned or done before the account lock is settled`,
    };
  const { planned, way: accepted, run, stale } = acceptedOf(store, standing);
  const outcome = outcomeOf(whereaboutsOf(planned, runStanding(store, standing.run)));
  if (outcome !== "open")
    return {
      ok: false,
      status: 409,
      code: "finished",
      says:
        outcome === "handed-over"
          ? `${standing.tag} is finished and handed over: there is nothing left to do`
          : outcome === "set-aside"
            ? `${standing.tag} is set aside: nothing is done with it`
            : `${standing.tag} goes no further${outcome === "ended" ? "" : `: it went ${DEVICE_END_WORDS[outcome]}`}`,
    };
  if (stale)
    return { ok: false, status: 409, code: "stale", stale, says: `${standing.tag}: ${stale.says}. Accept a way again` };
  const { model, facts, plan } = planned;
  const way = accepted ?? plan.best;
  if (!way || !model)
    return { ok: false, status: 409, code: "no-runbook", says: `${standing.tag} has no way: ${plan.says}` };
  // A run that was begun keeps its own sheet.
  const kept = run && findRun(store, standing.id);
  if (run && kept) return { ok: true, runbook: readRunbook(kept.runbook), way, accepted: true, done: run.done };
  const policy = housePolicy(store);
  const here = bench ? { ...policy, host: bench.host } : policy;
  if (bench && bench.host !== policy.host && !waysUnder(store, planned, here).some((w) => w.id === way.id))
    return {
      ok: false,
      status: 409,
      code: "no-runbook",
      says: `${bench.name} works with ${hostWords(bench.host)}, and this way can't be gone there. Begin it at another bench`,
    };
  try {
    const runbook = writeRunbook({
      tag: standing.tag,
      serial: standing.serial,
      imei: standing.imei,
      model,
      facts,
      way,
      index: indexOf(store),
      policy: here,
      need: planned.need,
      copies: identityCopies(store, standing.id),
    });
    return { ok: true, runbook, way, accepted: accepted !== null, done: 0 };
  } catch (error) {
    if (error instanceof RangeError) return { ok: false, status: 409, code: "no-runbook", says: error.message };
    throw error;
  }
}
