import type { FactKey } from "~/core/device/fact";
import { type PlanState, settled } from "~/core/upgrade/state";

/** What was open about the stock system is open about the base from now on; what was open about an earlier system is gone. */
export function overStock({ system, assumed }: PlanState): readonly FactKey[] {
  const kept = settled(assumed, ["build.number", "android.release", "system.kind", "services.addon"]);
  if (system !== "stock") return kept;
  return [
    ...kept,
    ...(assumed.includes("build.number") ? (["base.build"] as const) : []),
    ...(assumed.includes("android.release") ? (["base.release"] as const) : []),
  ];
}
