import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";
import { keptAmong } from "./kept";

/** The house wants it; by default only where nothing else brings the device up. */
export const cleaningWanted = rule([], ({ device: { model }, index, policy }) => {
  if (policy.cleaning === "never") return fails("packages.not-wanted", "The house cleans no stock systems (policy)");
  if (policy.cleaning === "stock" || !model.unlock.possible) return HOLDS;
  const up = index
    .imagesFor(model)
    .find(
      ({ image }) =>
        !image.withdrawn &&
        (image.cpu === null || image.cpu === model.cpu) &&
        (image.kind === "rom" || (image.kind === "gsi" && model.treble)),
    );
  return up
    ? fails(
        "packages.not-wanted",
        `${up.image.title} may bring it up: the house cleans the stock system only where nothing else does (policy)`,
      )
    : HOLDS;
});

/** Named packages only, and none that must stay. */
export const takesNothingKept = imageRule([], ({ entry }) => {
  const kept = keptAmong(entry.image.packages?.remove.map((p) => p.name) ?? []);
  return kept.length === 0
    ? HOLDS
    : fails(
        "packages.kept",
        `The list would take away ${kept.map((k) => `${k.name} (${k.is})`).join(", ")}: take ${kept.length === 1 ? "it" : "them"} out of the list`,
      );
});

export const stockToClean = rule(["system", "started", "assumed"], ({ state }) => {
  if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
  return state.system === "stock" && state.started === "running"
    ? HOLDS
    : fails("packages.needs-stock", "Only the maker's own, running system is cleaned");
});

export const sameBuild = imageRule(["baseBuild", "assumed"], ({ entry, state }) => {
  if (state.baseBuild === null || state.assumed.includes("build.number"))
    return unknown("build.unknown", "build.number");
  return state.baseBuild === entry.image.build
    ? HOLDS
    : fails(
        "packages.other-build",
        `The list was made for build ${entry.image.build}; the device runs ${state.baseBuild}`,
      );
});

export const notCleanedYet = rule(["cleaned"], ({ state }) =>
  state.cleaned === null ? HOLDS : fails("order.wrong-moment", "It is cleaned already"),
);
