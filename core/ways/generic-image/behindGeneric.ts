import type { FactKey } from "~/core/device/fact";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import { after, type PlanDevice, type PlanState, settled } from "~/core/upgrade/state";

/** What was open about the stock system is open about the base from now on; what was open about an earlier system is gone. */
function overStock({ system, assumed }: PlanState): readonly FactKey[] {
  const kept = settled(assumed, ["build.number", "android.release", "system.kind", "services.addon"]);
  if (system !== "stock") return kept;
  return [
    ...kept,
    ...(assumed.includes("build.number") ? (["base.build"] as const) : []),
    ...(assumed.includes("android.release") ? (["base.release"] as const) : []),
  ];
}

/** The state behind a generic image, whatever wrote it: what was the running stock build is the base under it from now on. */
export function behindGeneric(s: PlanState, { image, api }: IndexedImage, storage: PlanState["storage"]): PlanState {
  return after(s, {
    system: "generic",
    image: image.id,
    api,
    patch: image.patch,
    services: null,
    storage,
    started: "fresh",
    whole: false,
    assumed: overStock(s),
  });
}

/** What a person who calls has to know of a generic image; null for devices that make no calls. */
export const callsCaution = (_entry: IndexedImage, { model }: PlanDevice): string | null =>
  model.form === "phone"
    ? "Calls over LTE and 5G may not work on a generic image until they are set up: try a call before it goes to a person who needs them"
    : null;
