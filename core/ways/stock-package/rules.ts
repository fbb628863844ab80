import { fails, HOLDS } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";
import { missingParts } from "./wholeness";

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

export const freshStock = rule(["started", "system", "storage"], ({ state }) =>
  state.started === "fresh" && state.system === "stock" && state.storage === "clean"
    ? HOLDS
    : fails("order.wrong-moment", "Only a freshly written stock system is started and tested here"),
);
