import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import { after, type PlanState, settled } from "~/core/upgrade/state";

/** The state behind a custom ROM, however it was installed: whatever was open about the system before is closed. */
export function behindRom(s: PlanState, { image, api }: IndexedImage, storage: PlanState["storage"]): PlanState {
  return after(s, {
    system: "custom",
    image: image.id,
    api,
    patch: image.patch,
    // The ROM brings a boot image of its own: no verification file of the maker's fits any more.
    baseBuild: null,
    services: null,
    started: "fresh",
    whole: false,
    storage,
    assumed: settled(s.assumed, ["android.release", "system.kind", "services.addon", "base.build", "base.release"]),
  });
}
