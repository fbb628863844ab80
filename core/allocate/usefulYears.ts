import { floorOf, type Need } from "~/core/catalogue/need";
import { usefulLife } from "~/core/catalogue/usefulLife";
import { yearOf } from "~/core/catalogue/yearOf";
import type { Way } from "~/core/upgrade/way";

/** Further ahead no forecast is worth anything. */
const FURTHEST = 8;
/** Levels by which floors rise in a year, where a need has no history of its own. Common practice, no source. */
const LEVELS_A_YEAR = 1;

/**
 * Years until a device falls under the floor of its need: by the floor's own history where there is one, else by the levels
 * that it stands above the floor.
 *
 * @param day today, YYYY-MM-DD
 * @returns 0 to 8, in tenths
 * @example usefulYears({ apps: [], history: [] }, { api: 33 }, "2026-11-20") >= 0 // true
 */
export function usefulYears(need: Pick<Need, "apps" | "history">, { api }: Pick<Way, "api">, day: string): number {
  const life = usefulLife(need.history, api);
  const years = life ? life.reach.year - yearOf(day) : (api - floorOf(need).api + 1) / LEVELS_A_YEAR;
  return Math.round(10 * Math.min(FURTHEST, Math.max(0, years))) / 10;
}
