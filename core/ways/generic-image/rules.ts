import { releaseOf } from "~/core/android/releases";
import { binderAnswer, type FacetAnswer, layoutAnswer, systemAsRoot } from "~/core/catalogue/layout";
import { OPEN_FACTS } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import { lookUp } from "~/core/device/lookUp";
import { fails, HOLDS, type Outcome, type ReasonCode, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";
import {
  bootloaderUnlocked,
  firmwareSafe,
  mib,
  notRunningAlready,
  notWithdrawn,
  openParts,
  rootAllowed,
  signedOut,
  suitsModel,
} from "../common/rules";
import { recoveryOf } from "../recovery-packages/rules";

export const vendorInterface = rule([], ({ device }) =>
  device.model.open.includes("treble")
    ? unknown("model.open", "treble.supported")
    : device.model.treble
      ? HOLDS
      : fails("gsi.needs-vendor-interface", "A generic image needs the vendor interface, and this device has none"),
);

const facetOutcome = (answer: FacetAnswer, code: ReasonCode, fact: FactKey): Outcome =>
  answer.is === "fits" ? HOLDS : answer.is === "open" ? unknown(code, fact) : fails(code, answer.says);

export const binderFits = imageRule([], ({ entry, device: { model } }) =>
  facetOutcome(binderAnswer(entry.image, model.binder), "gsi.binder", "kernel.binder"),
);

export const layoutFits = imageRule([], ({ entry, device: { model, facts } }) => {
  for (const part of ["slots", "launchApi"] as const)
    if (model.open.includes(part) && entry.image.generic.slots !== null) return unknown("model.open", OPEN_FACTS[part]);
  const read = lookUp(facts, "system.as-root");
  const inside = systemAsRoot(model, read.isUnknown ? null : read.value);
  return facetOutcome(layoutAnswer(entry.image, inside), "gsi.slots", "system.as-root");
});

/** The maker's system is on it, or another generic image over a stock base that is known. */
export const stockBase = imageRule(
  ["system", "baseApi", "product", "started", "recovery", "assumed"],
  ({ state, entry, index }) => {
    if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
    if (state.system === "custom" || recoveryOf(index, state)?.image.flavour === "rom")
      return fails("gsi.needs-stock-base", "A generic image goes on the maker's own system: go to stock first");
    // A stock system that was taken apart for the image (product removed) no longer starts, and need not.
    if (state.system === "stock" && state.started === "broken" && state.product === "present")
      return fails("gsi.needs-stock-base", "The maker's system on it does not start: write the stock package first");
    if (state.system === "none" && state.assumed.includes("base.release"))
      return fails(
        "gsi.needs-stock-base",
        "A write was not finished, and nobody knows what lies under it now: write the stock package first",
      );
    // The recovery of a ROM lies in the boot partition of some models: then boot is not the maker's either.
    const open = openParts(state, ["recovery.image"]);
    if (open) return open;
    const base = state.system === "stock" ? "android.release" : "base.release";
    if (state.assumed.includes(base)) return unknown("release.unknown", base);
    return entry.api >= state.baseApi
      ? HOLDS
      : fails(
          "gsi.older-than-base",
          `The vendor part is from Android ${releaseOf(state.baseApi)}; an older generic image does not start on it`,
        );
  },
);

/** The expanded image fits the system partition, with product's room when that is removed. */
export const imageFits = imageRule(["product"], ({ entry, state, device: { model } }) => {
  if (model.open.includes("room")) return unknown("model.open", "room.system");
  const room = model.room.system + (state.product === "removed" ? (model.room.product ?? 0) : 0);
  return entry.expanded <= room
    ? HOLDS
    : fails("gsi.room", `The image is ${mib(entry.expanded - room)} larger than the room of ${mib(room)}`);
});

/** The expanded image would fit with everything removed that can be removed. */
export const imageFitsAtMost = imageRule([], ({ entry, device: { model } }) => {
  if (model.open.includes("room")) return unknown("model.open", "room.system");
  const removable = model.logical && model.userspaceFastboot ? (model.room.product ?? 0) : 0;
  const room = model.room.system + removable;
  return entry.expanded <= room
    ? HOLDS
    : fails("gsi.room", `The image is ${mib(entry.expanded - room)} larger than the room of ${mib(room)}`);
});

export const verificationIsOff = rule(["verification"], ({ state, policy }) =>
  state.verification === "off" || policy.verificationOrder === "after"
    ? HOLDS
    : fails("verification.missing", "Needs the verification file of exactly the installed build, and there is none"),
);

export const verificationMatches = imageRule(["system", "baseBuild", "assumed"], ({ entry, state }) => {
  const key = state.system === "stock" ? "build.number" : "base.build";
  if (state.assumed.includes(key) || state.baseBuild === null) return unknown("build.unknown", key);
  return entry.image.build === state.baseBuild
    ? HOLDS
    : fails(
        "verification.other-build",
        `Belongs to build ${entry.image.build}; the installed build is ${state.baseBuild}`,
      );
});

export const verificationOn = rule(["verification"], ({ state }) =>
  state.verification === "on" ? HOLDS : fails("order.wrong-moment", "Verification is switched off already"),
);

/** The house flashes the verification file before the image or after it; never on its own. */
export const verificationMoment = rule(["system"], ({ state, policy }) =>
  (policy.verificationOrder === "after") === (state.system === "generic")
    ? HOLDS
    : fails("order.wrong-moment", "The verification file goes on at another moment (policy)"),
);

/** Product goes only to make room for a generic image, on a system that is not a ROM's. */
export const productRemovable = rule(
  ["system", "product", "started", "assumed"],
  ({ state, device: { model, facts } }) => {
    if (state.system === "custom" || state.product === "removed")
      return fails("order.wrong-moment", "Product is removed already, or a ROM runs that needs it");
    if (model.room.product === null || !model.logical || !model.userspaceFastboot)
      return fails("product.not-removable", "The product partition can't be removed on this model");
    // The maker's system does not run without it; what else runs, or does not, tells nothing.
    const open = state.system === "stock" && state.started === "running" ? null : openParts(state, ["product.removed"]);
    if (open) return open;
    return model.slots && lookUp(facts, "slot.current").isUnknown ? unknown("slot.unknown", "slot.current") : HOLDS;
  },
);

/** What an image and a device must be for each other, whatever writes it; asked first, in this order. */
export const SUITS_AS_GENERIC = [
  suitsModel,
  notWithdrawn,
  rootAllowed,
  vendorInterface,
  binderFits,
  layoutFits,
] as const;

/** What must hold of the device before a generic image goes over its system, whatever writes it. */
export const MAY_BE_WRITTEN_OVER = [notRunningAlready, bootloaderUnlocked, signedOut, firmwareSafe, stockBase] as const;
