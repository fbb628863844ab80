import { indexOf } from "~/app/server/planning/planning";
import type { CatalogueIndex } from "~/core/upgrade/catalogueIndex";
import { type CoverageCell, coverage } from "~/core/upgrade/coverage";
import type { Store } from "~/store/database";

const kept = new WeakMap<CatalogueIndex, readonly CoverageCell[]>();

/** All cells of the matrix that are not empty; worked out once for each state of the catalogue. */
export function coverageCells(store: Store): readonly CoverageCell[] {
  const index = indexOf(store);
  let cells = kept.get(index);
  if (!cells) {
    cells = coverage(index);
    kept.set(index, cells);
  }
  return cells;
}
