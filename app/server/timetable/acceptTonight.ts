import { acceptWay } from "~/app/server/planning/decide";
import { plannedDevice } from "~/app/server/planning/planning";
import type { Hand, Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { standingDivision } from "~/store/divisions";

/**
 * Accepts the way by which a device was divided, or the proposed one where that is not open any more: the gate and the open
 * questions hold as everywhere.
 *
 * @returns what is wrong in words, or null
 */
export function acceptTonight(store: Store, tag: string, hand: Hand): string | null {
  const standing = findStanding(store, tag);
  if (!standing) return `There is no device ${tag}`;
  const { plan } = plannedDevice(store, standing);
  const divided = standingDivision(store)?.devices.find(({ device }) => device === standing.id)?.way;
  const way = plan.ways.find(({ id }) => id === divided) ?? plan.best;
  if (!way) return `${tag}: no way is open to it: ${plan.says}`;
  return acceptWay(store, [standing.tag], way.id, "as it was divided", hand);
}
