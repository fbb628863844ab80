import { housePolicy } from "~/app/server/planning/housePolicy";
import { indexOf } from "~/app/server/planning/planning";
import type { Policy } from "~/core/policy/policy";
import type { CatalogueIndex } from "~/core/upgrade/catalogueIndex";
import { type CoverageCell, coverage } from "~/core/upgrade/coverage";
import type { Store } from "~/store/database";

const kept = new WeakMap<CatalogueIndex, { readonly root: Policy["root"]; readonly cells: readonly CoverageCell[] }>();

/** All cells of the matrix that are not empty; worked out once for each state of the catalogue and the house's policy. */
export function coverageCells(store: Store): readonly CoverageCell[] {
  const index = indexOf(store);
  const policy = housePolicy(store);
  const before = kept.get(index);
  // Of the policy only the school of rooted images bears on what an image is to a model.
  if (before?.root === policy.root) return before.cells;
  const cells = coverage(index, policy);
  kept.set(index, { root: policy.root, cells });
  return cells;
}
