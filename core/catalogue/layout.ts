import type { Image } from "./image";
import type { Model } from "./model";

/**
 * Whether a device's system partition holds the root folder; null while it can't be told.
 *
 * With two slots, or sold with Android 10 or later, it does. Among the others those sold with Android 9 came both ways, and
 * older ones had it outside (common practice, no source).
 *
 * @param read what was read on the device itself; null where nothing was
 * @example systemAsRoot({ slots: false, launchApi: 29, systemAsRoot: null }, null) // true
 */
export function systemAsRoot(
  model: Pick<Model, "slots" | "launchApi" | "systemAsRoot">,
  read: boolean | null,
): boolean | null {
  if (model.slots || model.launchApi >= 29) return true;
  return read ?? model.systemAsRoot ?? (model.launchApi === 28 ? null : false);
}

/** A question about a generic image and a device: fits, does not, with the reason; or not known of the device. */
export type FacetAnswer =
  | { readonly is: "fits" }
  | { readonly is: "not"; readonly says: string }
  | { readonly is: "open" };

const FITS: FacetAnswer = { is: "fits" };

/**
 * Whether an image speaks the binder of a device's kernel. A 64-bit kernel knows only the 64-bit one (Linux,
 * drivers/android/Kconfig: ANDROID_BINDER_IPC_32BIT depends on !64BIT), so only 32-bit processors leave a choice.
 *
 * @param bits what the kernel speaks; null while nobody knows
 * @example binderAnswer({ cpu: "arm", generic: { binder: "64", … } }, "32") // { is: "not", says: "Built for a 64-bit binder; …" }
 */
export function binderAnswer({ cpu, generic }: Pick<Image, "cpu" | "generic">, bits: "32" | "64" | null): FacetAnswer {
  if (generic.binder === null || cpu !== "arm") return FITS;
  if (bits === null) return { is: "open" };
  return bits === generic.binder
    ? FITS
    : { is: "not", says: `Built for a ${generic.binder}-bit binder; this device's kernel speaks ${bits} bits` };
}

/**
 * Whether an image is built for a device's layout: A/B wants the root folder inside the system partition, A-only outside.
 *
 * @param inside where it is, as {@link systemAsRoot} tells
 * @example layoutAnswer({ generic: { slots: "ab", … } }, null) // { is: "open" }
 */
export function layoutAnswer({ generic }: Pick<Image, "generic">, inside: boolean | null): FacetAnswer {
  if (generic.slots === null) return FITS;
  if (inside === null) return { is: "open" };
  if (inside === (generic.slots === "ab")) return FITS;
  const says =
    generic.slots === "ab"
      ? "Built for devices with slots (A/B layout); this one has its root folder outside the system partition"
      : "Built for devices without slots (A-only layout); this one has its root folder inside the system partition";
  return { is: "not", says };
}
