import type { Way } from "~/core/upgrade/way";

/**
 * Chance that a way succeeds at the first try or the second: a second one is there where the way back is known, or where
 * nothing is written over.
 *
 * @returns 0 to 1
 * @example secondTry({ success: 0.8, back: …, writes: true }) // 0.96
 */
export function secondTry({ success, back, writes }: Pick<Way, "success" | "back" | "writes">): number {
  return back !== null || !writes ? 1 - (1 - success) ** 2 : success;
}
