import { casesOf, lockOf } from "~/app/server/clearance/cases";
import { catalogueOf, plannedDevice } from "~/app/server/planning/planning";
import type { ClearanceMove } from "~/core/clearance/case";
import type { Proof } from "~/core/clearance/proof";
import { readFactValue } from "~/core/device/fact";
import { appendClearance } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import { findStanding, type Standing, saveDevice } from "~/store/devices";
import { appendFacts } from "~/store/facts";
import { inTransaction } from "~/store/transaction";

/** What is set for many devices at once: one of these. */
export type SetMany =
  | { readonly what: "need"; readonly need: string | null }
  /** What runs, as somebody has seen it on each of them. */
  | { readonly what: "system"; readonly system: string }
  | { readonly what: "clear"; readonly proofs: readonly Proof[]; readonly evidence: string };

/** Undoes everything that was written for the devices before it. */
class Wrong extends Error {}

/**
 * Sets one thing for many devices, all or none. Each device is judged by the same rules as alone: a case that can't be closed
 * with these proofs stops all of them.
 *
 * @returns what is wrong in words, with the tag it is about; null when it was written
 */
export function setMany(store: Store, tags: readonly string[], asked: SetMany, hand: Hand): string | null {
  if (tags.length === 0) return "Tick the devices it is for";
  if (asked.what === "need" && asked.need !== null && !catalogueOf(store).needs.some((n) => n.id === asked.need))
    return "There is no such need any more. Reload the page";
  const system = asked.what === "system" ? readFactValue("system.kind", asked.system) : null;
  if (system && !system.ok) return "Choose what runs on them";
  try {
    inTransaction(store, () => {
      for (const tag of tags) {
        const standing = findStanding(store, tag);
        if (!standing) throw new Wrong(`There is no device ${tag}`);
        const wrong = setOne(store, standing, asked, hand);
        if (wrong) throw new Wrong(`${standing.tag}: ${wrong}. Nothing was written for any of them`);
      }
    });
    return null;
  } catch (error) {
    if (error instanceof Wrong) return error.message;
    throw error;
  }
}

function setOne(store: Store, standing: Standing, asked: SetMany, hand: Hand): string | null {
  switch (asked.what) {
    case "need":
      saveDevice(store, standing, { ...standing, need: asked.need }, hand);
      return null;
    case "system":
      appendFacts(store, standing.id, [{ key: "system.kind", value: asked.system, source: "typed", ...hand }]);
      return null;
    case "clear": {
      const lock = lockOf(plannedDevice(store, standing));
      const seen = casesOf(store)(standing.id).newest;
      const move: ClearanceMove = {
        event: "confirmed-clear",
        evidence: asked.evidence,
        detail: { proofs: [...asked.proofs] },
      };
      return appendClearance(store, standing.tag, { ...move, seen, lock }, hand);
    }
  }
}
