import type { Facets } from "~/core/catalogue/facets";
import type { Model } from "~/core/catalogue/model";
import { currentValue } from "~/core/device/lookUp";
import type { Policy } from "~/core/policy/policy";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import type { PlanDevice } from "~/core/upgrade/state";
import { failureOf } from "../operation";

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

/** Shares of failure: of the flavour that suits, of the other, and of one that did not start on this very device. Common practice, no source. */
const [SUITS, SUITS_NOT, FAILED_HERE] = [0.08, 0.14, 0.5];

/** Share of failure of a generic image on a device: after a run that ended with it not starting, the other flavour is the one to try. */
export function flavourFailure(entry: IndexedImage, { model, facts }: PlanDevice, policy: Policy): number {
  const { patching } = entry.image.generic;
  const usual = failureOf(entry, patchingSuits(patching, model, policy.gsiFlavour) === false ? SUITS_NOT : SUITS);
  return patching !== null && currentValue(facts, "gsi.failed") === patching ? Math.max(usual, FAILED_HERE) : usual;
}
