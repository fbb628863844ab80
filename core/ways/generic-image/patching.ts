import type { Facets } from "~/core/catalogue/facets";
import type { Model } from "~/core/catalogue/model";

/**
 * Whether the way a generic image is patched is the one to try first on a model: lightly patched on newer devices with
 * fastboot, heavily patched or for the lite interface on older ones and in download mode. Common practice, no source.
 *
 * @returns null where the image does not say how it is patched
 */
export function patchingSuits(patching: Facets["patching"], model: Pick<Model, "launchApi" | "flash">): boolean | null {
  if (patching === null) return null;
  const newer = model.launchApi >= 28 && model.flash === "fastboot";
  return newer === (patching === "light");
}
