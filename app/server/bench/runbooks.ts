import { indexOf, plannedDevice } from "~/app/server/planning/planning";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { factsAfterRun } from "~/core/runbook/afterRun";
import { writeRunbook } from "~/core/runbook/runbook";
import type { Runbook } from "~/core/runbook/step";
import type { Way } from "~/core/upgrade/way";
import type { Hand, Store } from "~/store/database";
import { acceptedWay, findStanding, type Standing } from "~/store/devices";
import { appendFacts } from "~/store/facts";
import { readPolicy } from "~/store/policy";

export type RunbookAnswer =
  | { readonly ok: true; readonly runbook: Runbook; readonly way: Way; readonly accepted: boolean }
  | { readonly ok: false; readonly status: 404 | 409; readonly says: string };

/** The sheet of a device's accepted way, else of the proposed one. */
export function runbookOf(store: Store, tag: string): RunbookAnswer {
  const standing = findStanding(store, tag);
  if (!standing) return { ok: false, status: 404, says: `There is no device ${tag}` };
  const gate = CLEARANCE_STATES[standing.clearance];
  if (!gate.opensGate)
    return {
      ok: false,
      status: 409,
      says: `${standing.tag}: ${gate.says.toLowerCase()}. Nothing is planned or done before the account lock is settled`,
    };
  const { plan, model, facts } = plannedDevice(store, standing);
  const accepted = acceptedWay(standing);
  const way = accepted ?? plan.best;
  if (!way || !model) return { ok: false, status: 409, says: `${standing.tag} has no way: ${plan.says}` };
  const index = indexOf(store);
  try {
    const runbook = writeRunbook({
      tag: standing.tag,
      serial: standing.serial,
      model,
      facts,
      way,
      image: (id) => index.images.get(id)?.image,
      policy: readPolicy(store).policy,
    });
    return { ok: true, runbook, way, accepted: accepted !== null };
  } catch (error) {
    if (error instanceof RangeError) return { ok: false, status: 409, says: error.message };
    throw error;
  }
}

/** Appends what a finished run has made of a device. */
export function recordRun(store: Store, standing: Standing, way: Way, hand: Hand) {
  const index = indexOf(store);
  appendFacts(
    store,
    standing.id,
    factsAfterRun(way, (id) => index.images.get(id)?.image, hand),
  );
}
