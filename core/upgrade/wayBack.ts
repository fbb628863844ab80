import { takersOf } from "~/core/ways/registry";
import { isWhole } from "~/core/ways/stock-package/wholeness";
import type { SearchWorld } from "./search";
import { after, type PlanState } from "./state";

/** How a device comes back to the maker's system when a way goes wrong behind its first write. */
export interface WayBack {
  /** The stock package. */
  readonly image: string;
  readonly title: string;
  readonly bytes: number;
  readonly minutes: number;
  /** It writes everything: nothing foreign is left behind it. */
  readonly whole: boolean;
}

/**
 * The stock package that would bring a device back from the worst moment of a way: unlocked, nothing that starts on it, with
 * the newest firmware the way brings. Of several the newest that is whole.
 *
 * @param end the state the way ends in
 * @returns null where the catalogue has none that goes on
 */
export function wayBackFrom(end: PlanState, world: SearchWorld): WayBack | null {
  const worst = after(end, { locked: false, started: "broken", system: "none", whole: false });
  const writers = takersOf("stock");
  const { model } = world.device;
  const found = world.index.imagesOf(model, "stock").flatMap((entry) => {
    const bound = writers.flatMap((o) => o.bind(entry, world) ?? []).find((b) => !b.failure("all", worst));
    if (!bound) return [];
    const { handsOn, unattended } = bound.cost;
    return {
      image: entry.image.id,
      title: entry.image.title,
      bytes: entry.bytes,
      minutes: Math.round(handsOn + unattended),
      whole: isWhole(entry.image, model),
      api: entry.api,
    };
  });
  found.sort((a, b) => Number(b.whole) - Number(a.whole) || b.api - a.api || (a.image < b.image ? -1 : 1));
  if (!found[0]) return null;
  const { api: _api, ...back } = found[0];
  return back;
}
