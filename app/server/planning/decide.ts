import { asClause } from "~/core/catalogue/clause";
import { isFinishedRun, runThatCounts } from "~/core/lane/station";
import { type Rests, restsOn } from "~/core/upgrade/restsOn";
import type { Way } from "~/core/upgrade/way";
import type { Hand, Store } from "~/store/database";
import { decide, undecide } from "~/store/decisions";
import { findStanding, type Standing } from "~/store/devices";
import { runStanding } from "~/store/runs";
import { inTransaction } from "~/store/transaction";
import { plannedDevice } from "./planning";

/**
 * Accepts a way for devices, all or none. Another way than the proposed one takes a reason; the way must still be one of
 * the device's ways, since a fact, an image or the policy may have moved in the meantime.
 *
 * @returns what is wrong in words, or null when it was written
 */
export function acceptWay(
  store: Store,
  tags: readonly string[],
  wayId: string,
  reason: string,
  hand: Hand,
): string | null {
  return inTransaction(store, () => {
    const accepted: { device: number; way: Way; proposed: string | null; rests: Rests }[] = [];
    for (const tag of tags) {
      const standing = findStanding(store, tag);
      if (!standing) return `There is no device ${tag}`;
      if (hasUnfinishedRun(store, standing))
        return `${tag} is on the bench in the middle of a run. Finish it there, or end it with what is seen`;
      if (standing.aside) return `${tag} is set aside: nothing is planned for it. Bring it back into the lane first`;
      if (standing.ended) return `${tag} goes no further. Take that back at Records first`;
      const { plan, facts } = plannedDevice(store, standing);
      const way = plan.ways.find((w) => w.id === wayId);
      if (!way) return `${tag}: this way is no longer open (${asClause(plan.says)}). Look at the new ways`;
      if (way.questions.length)
        return `${tag}: ${asClause(way.questions[0].says)} first. A way that rests on an open question can't be accepted`;
      if (way.id !== plan.best?.id && reason.trim().length < 5)
        return "This is not the proposed way: write down why you choose it";
      accepted.push({ device: standing.id, way, proposed: plan.best?.id ?? null, rests: restsOn(facts) });
    }
    for (const { device, ...decision } of accepted) decide(store, device, { ...decision, reason: reason.trim() }, hand);
    return null;
  });
}

/** Takes an accepted way back. @returns what is wrong in words, or null */
export function takeBack(store: Store, tag: string, hand: Hand): string | null {
  return inTransaction(store, () => {
    const standing = findStanding(store, tag);
    if (!standing) return `There is no device ${tag}`;
    if (standing.way === null) return `${tag} has no accepted way`;
    if (hasUnfinishedRun(store, standing))
      return `${tag} is on the bench in the middle of a run: end the run there, with what is seen`;
    undecide(store, standing.id, "taken back", hand);
    return null;
  });
}

/** A run of the way that stands is in the middle; one that was stopped, or whose way was taken back, no longer counts. */
function hasUnfinishedRun(store: Store, standing: Standing): boolean {
  const run = runThatCounts(runStanding(store, standing.run), standing.decision);
  return run !== null && run.done > 0 && !isFinishedRun(run);
}
