import { docOf, restsNow } from "~/app/server/jobs/beside";
import { catalogueOf, plannedDevice, planOnceClear } from "~/app/server/planning/planning";
import { difference, moved } from "~/core/allocate/move";
import type { Hand, Store } from "~/store/database";
import { acceptedWay, findStanding, type Standing, saveDevice, tagOf } from "~/store/devices";
import { addDivision, addDivisionBack, type DividedRow, putPin, standingDivision } from "~/store/divisions";
import { divisionDrafts } from "~/store/drafts";
import { groupNames, listGroups } from "~/store/evenings";
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
  const needOf = new Map(listGroups(store).map(({ id, need }) => [String(id), need]));
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
      addDivision(store, JSON.stringify({ shares, scores, proven, finished }), rows, hand);
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

/**
 * Moves one device by hand in the division that is looked at, and pins it: dividing again leaves it there. What it costs
 * stands beside it.
 *
 * @param to a group's id; null keeps it from the group in which it is
 * @returns what is wrong in words, or null
 */
export function moveDevice(store: Store, tag: string, to: string | null, hand: Hand): string | null {
  const draft = standingDraft(store);
  if (!draft?.division || draft.state === "running") return "There is no division in which to move anything yet";
  const standing = findStanding(store, tag);
  if (!standing) return `There is no device ${tag}`;
  const from = draft.division.placed.find(({ device }) => device === standing.tag)?.option.group ?? null;
  if (draft.asked.promised?.includes(standing.tag))
    return `${standing.tag} was not moved. A promise rests on it: take the promise back first, and tell the group`;
  if (from === to) return `${standing.tag} is there already`;
  const next = moved(draft.asked.question, draft.division, { device: standing.tag, to });
  if (typeof next === "string") return `${standing.tag} was not moved. ${next}`;
  const names = groupNames(store);
  const changes = difference(draft.division, next, (group) => names.get(group) ?? group);
  const where = to === null ? "into the reserve" : `to ${names.get(to)}`;
  inTransaction(store, () => {
    if (to !== null) putPin(store, standing.id, Number(to), "there", hand);
    else if (from !== null) putPin(store, standing.id, Number(from), "never", hand);
    if (to !== null && from !== null) putPin(store, standing.id, Number(from), "free", hand);
    // The pin itself is written by the move: it does not make what is looked at stale.
    const says = `${standing.tag} goes ${where}: ${changes.length ? changes.join("; ") : "nothing else changes"}`;
    divisionDrafts.begin(
      store,
      "done",
      JSON.stringify({ ...docOf(draft), division: next, moved: says, whatIf: [], rests: restsNow(store) }),
      hand,
    );
  });
  return null;
}
