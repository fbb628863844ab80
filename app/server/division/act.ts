import { catalogueOf, plannedDevice, planOnceClear } from "~/app/server/planning/planning";
import type { Hand, Store } from "~/store/database";
import { acceptedWay, findStanding, type Standing, saveDevice, tagOf } from "~/store/devices";
import { addDivision, addDivisionBack, type DividedRow, standingDivision } from "~/store/divisions";
import { divisionDrafts } from "~/store/drafts";
import { listGroups } from "~/store/evenings";
import { inTransaction } from "~/store/transaction";
import { standingDraft } from "./draft";

/** Undoes everything that was written before it. */
class Wrong extends Error {}

/**
 * Accepts the division that is looked at: every device gets the need of the group it goes to. All or none; a device whose
 * way is no longer open stops all.
 *
 * @returns what is wrong in words, or null
 */
export function acceptDivision(store: Store, version: number, hand: Hand): string | null {
  const draft = standingDraft(store);
  if (!draft?.division || draft.state === "running") return "There is no division to accept. Divide first";
  if (draft.version !== version) return "It was divided again meanwhile. Look at what stands now";
  if (draft.stale)
    return "Something was written since that bears on it: a reading, an answer, a group, an evening. Divide again";
  const { division } = draft;
  const groups = listGroups(store);
  const needOf = new Map(groups.map(({ id, need }) => [String(id), need]));
  // What a chance is for: a group's day may be moved later.
  const days = Object.fromEntries(groups.map(({ id, by }) => [id, by]));
  try {
    inTransaction(store, () => {
      const rows = division.placed.map(({ device, option }): DividedRow => {
        const standing = findStanding(store, device);
        const need = needOf.get(option.group);
        if (!standing || need === undefined) throw new Wrong(`${device} or its group is not there any more`);
        const open = acceptedWay(standing)?.id === option.way || stillOpen(store, standing, need, option.way);
        if (!open) throw new Wrong(`${device}: its way is no longer open`);
        if (standing.need !== need) saveDevice(store, standing, { ...standing, need }, hand);
        return {
          device: standing.id,
          grp: Number(option.group),
          way: option.way,
          chance: option.chance,
          was_need: standing.need,
        };
      });
      const { shares, scores, proven, finished } = division;
      const { enough = [] } = draft.asked;
      addDivision(store, JSON.stringify({ shares, scores, proven, finished, days, enough }), rows, hand);
      divisionDrafts.forget(store);
    });
    return null;
  } catch (error) {
    if (error instanceof Wrong) return `${error.message}. Nothing was written. Divide again`;
    throw error;
  }
}

function stillOpen(store: Store, standing: Standing, needId: string, way: string): boolean {
  const need = catalogueOf(store).needs.find(({ id }) => id === needId);
  return (
    need !== undefined && planOnceClear(store, plannedDevice(store, standing), need).ways.some(({ id }) => id === way)
  );
}

/**
 * Takes the accepted division back: needs are as they were before it, where nobody gave another one since.
 *
 * @returns what is wrong in words, or null
 */
export function takeDivisionBack(store: Store, id: number, hand: Hand): string | null {
  return inTransaction(store, () => {
    const standing = standingDivision(store);
    if (!standing || standing.id !== id) return "This division does not stand any more. Look at what stands now";
    const needOf = new Map(listGroups(store).map((group) => [group.id, group.need]));
    for (const { device, grp, was_need } of standing.devices) {
      const tag = tagOf(store, device);
      const now = tag === null ? undefined : findStanding(store, tag);
      if (now && now.need === needOf.get(grp) && now.need !== was_need)
        saveDevice(store, now, { ...now, need: was_need }, hand);
    }
    addDivisionBack(store, id, hand);
    return null;
  });
}
