import type { Policy } from "~/core/policy/policy";
import type { CatalogueIndex } from "~/core/upgrade/catalogueIndex";
import type { Plan } from "~/core/upgrade/plan";
import { decidingAspect } from "~/core/upgrade/ranking";
import type { Way } from "~/core/upgrade/way";

/** Ways shown side by side at most. */
const SIDE_BY_SIDE = 3;

/**
 * The ways of a plan as a page shows them: those asked for side by side, all in short. Where none is asked for, the first
 * three; the accepted one is always among them.
 *
 * @param compare ids of the ways to set side by side
 * @param again the accepted way has to be accepted again: the ground under it has moved, or it was gone to its end
 */
export function shownWays(plan: Plan, chosen: Way | null, compare: readonly string[], policy: Policy, again = false) {
  const picked = plan.ways.filter((w) => compare.includes(w.id)).slice(0, SIDE_BY_SIDE);
  const ways = picked.length ? picked : firstWays(plan, chosen);
  return {
    side: ways.map((way) => ({ way, best: way.id === plan.best?.id, chosen: way.id === chosen?.id && !again })),
    all: plan.ways.map((w) => ({
      id: w.id,
      image: w.image,
      release: w.release,
      keeps: w.keeps,
      works: w.fit.works,
      operations: w.operations.length,
    })),
    deciding: ways.length > 1 ? decidingAspect(ways[0], ways[1], policy) : null,
  };
}

function firstWays(plan: Plan, chosen: Way | null): readonly Way[] {
  const first = plan.ways.slice(0, SIDE_BY_SIDE);
  const accepted = plan.ways.find((w) => w.id === chosen?.id);
  return !accepted || first.includes(accepted) ? first : [...first.slice(0, SIDE_BY_SIDE - 1), accepted];
}

/** Titles of all images that a set of plans names. */
export function imageTitles(plans: readonly Plan[], index: CatalogueIndex): Record<string, string> {
  const ids = new Set(
    plans.flatMap((p) => [
      ...p.stops.map((s) => s.image),
      ...p.ways.flatMap((w) => [w.image, ...w.operations.map((o) => o.image)]),
    ]),
  );
  const titles: Record<string, string> = {};
  for (const id of ids) if (id) titles[id] = index.images.get(id)?.image.title ?? id;
  return titles;
}
