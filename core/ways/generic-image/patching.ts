import type { Facets } from "~/core/catalogue/facets";
import type { Model } from "~/core/catalogue/model";
import type { Policy } from "~/core/policy/policy";

/**
 * Whether the way a generic image is patched is the one to try first on a model: lightly patched on newer devices with
 * fastboot, heavily patched or for the lite interface on older ones and in download mode. Common practice, no source.
 *
 * @param first the house's side, where it is not by device
 * @returns null where the image does not say how it is patched
 */
export function patchingSuits(
  patching: Facets["patching"],
  model: Pick<Model, "launchApi" | "flash">,
  first: Policy["gsiFlavour"],
): boolean | null {
  if (patching === null) return null;
  if (first !== "by-device") return (first === "light") === (patching === "light");
  const newer = model.launchApi >= 28 && model.flash === "fastboot";
  return newer === (patching === "light");
}
