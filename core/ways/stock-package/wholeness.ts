import { SLOT_WORDS } from "~/core/catalogue/flasherSlots";
import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";

/**
 * Partitions of a model that a stock package does not hold as files of their own.
 *
 * A package is whole when it writes boot and system, the verification file where the maker checks one, recovery where it has
 * a partition, and product where the model has one: only then everything on the device is the maker's again.
 *
 * @example missingParts({ files: [{ partition: "system" }, …] }, model) // ["boot"]
 */
export function missingParts(
  image: Pick<Image, "writtenBy"> & { readonly files: readonly Pick<Image["files"][number], "partition" | "slot">[] },
  model: Pick<Model, "slots" | "treble" | "room">,
): string[] {
  // The tars of the flasher hold all partitions between them; the keeping edition leaves what somebody changed.
  if (image.writtenBy === "flasher")
    return (["bootloader", "system", "region-wipe"] as const)
      .filter((slot) => !image.files.some((f) => f.slot === slot))
      .map((slot) => SLOT_WORDS[slot]);
  // A card holds the maker's update as one piece: everything, or it is refused by the device.
  if (image.writtenBy === "card") return [];
  const wanted = ["boot", "system"];
  if (model.treble) wanted.push("vbmeta");
  if (!model.slots && model.room.recovery !== null) wanted.push("recovery");
  if (model.room.product !== null) wanted.push("product");
  const has = new Set(image.files.map((f) => f.partition));
  return wanted.filter((name) => !has.has(name));
}

/**
 * True when a stock package writes everything a device of the model is made of.
 *
 * @example isWhole({ files: [], writtenBy: "…" }, model) // false
 */
export const isWhole = (image: Pick<Image, "files" | "writtenBy">, model: Pick<Model, "slots" | "treble" | "room">) =>
  missingParts(image, model).length === 0;
