import { WRITTEN_BY_WORDS, type WrittenBy } from "~/core/catalogue/image";
import { lookUp } from "~/core/device/lookUp";
import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";
import { missingParts } from "./wholeness";

/** A stock package is written as it is made to be: its parts, its tars, its card. */
export const writtenBy = (how: WrittenBy) =>
  imageRule([], ({ entry: { image } }) =>
    image.writtenBy === how
      ? HOLDS
      : fails("stock.other-form", `It is written ${WRITTEN_BY_WORDS[image.writtenBy]}, not ${WRITTEN_BY_WORDS[how]}`),
  );

const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();

/** The package is of the device's own region: another region's counts as another model's. */
export const regionFits = imageRule([], ({ entry: { image }, device: { facts } }) => {
  if (image.regions.length === 0) return HOLDS;
  const region = lookUp(facts, "device.region");
  if (region.isUnknown) return unknown("stock.other-region", "device.region");
  return image.regions.some((r) => same(r, region.value))
    ? HOLDS
    : fails("stock.other-region", `Made for region ${image.regions.join(", ")}; this device is ${region.value}`);
});

/** The package is of the device's own model number, where the maker makes one for each. */
export const modelNumberFits = imageRule([], ({ entry: { image }, device: { facts, model } }) => {
  if (image.modelNumbers.length === 0) return HOLDS;
  const read = lookUp(facts, "model.number");
  // A model with one number only has told it by being that model.
  const number = read.isUnknown ? (model.modelNumbers.length === 1 ? model.modelNumbers[0] : null) : read.value;
  if (number === null) return unknown("stock.other-number", "model.number");
  return image.modelNumbers.some((n) => same(n, number))
    ? HOLDS
    : fails("stock.other-number", `Made for ${image.modelNumbers.join(", ")}; this device is ${number}`);
});

/** The fuse of the bootloader only counts up: what carries a lower level is refused, or ends the device. */
export const fuseFits = imageRule([], ({ entry: { image }, device: { facts } }) => {
  if (image.fuse === null)
    return fails("firmware.fuse", "Nobody read which fuse level it carries: write it into its record first");
  const level = lookUp(facts, "fuse.level");
  if (level.isUnknown) return unknown("firmware.fuse", "fuse.level");
  return image.fuse >= level.value
    ? HOLDS
    : fails(
        "firmware.fuse",
        `It carries fuse level ${image.fuse}, the device stands at ${level.value}: it goes up only`,
      );
});

/** A package without files for boot and system can't be written part by part. */
export const writable = imageRule([], ({ entry, device }) => {
  const missing = missingParts(entry.image, device.model).filter((p) => p === "boot" || p === "system");
  return missing.length
    ? fails(
        "stock.not-whole",
        `Its record names no file for ${missing.join(" and ")}: add the partition of each file to the record`,
      )
    : HOLDS;
});

export const freshStock = rule(["started", "system", "storage", "assumed"], ({ state }) => {
  // What was reset without being written may be anybody's system.
  if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
  return state.started === "fresh" && state.system === "stock" && state.storage === "clean"
    ? HOLDS
    : fails("order.wrong-moment", "Only a freshly written stock system is started and tested here");
});
