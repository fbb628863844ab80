import type { Runbook } from "~/core/runbook/step";
import { type Piece, piecesOf } from "~/core/schedule/pieces";
import type { Way } from "~/core/upgrade/way";
import type { Store } from "~/store/database";
import { experienceOf } from "./experience";

/** What is left of a sheet, in pieces as long as they take here. */
export function sheetPieces(
  store: Store,
): (sheet: { readonly way: Way; readonly runbook: Runbook; readonly done: number }) => Piece[] {
  const experience = experienceOf(store);
  return ({ way, runbook, done }) => {
    // Good as it is: only the look at the end is left.
    if (way.keeps && way.operations.length === 0) return [];
    const pace = paceOf(way, (operation) => experience.learned(operation, runbook.model, 0.9)?.pace.median ?? 1);
    return piecesOf(runbook, { done, waitDays: way.waitingDays, pace });
  };
}

/** How long a way takes here against what its sheet says: the mean over its operations. */
function paceOf({ operations }: Way, of: (operation: Way["operations"][number]) => number): number {
  return operations.length ? operations.reduce((sum, operation) => sum + of(operation), 0) / operations.length : 1;
}
