import { describeRelease, releaseOf } from "~/core/android/releases";
import { lookUp } from "~/core/device/lookUp";
import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";
import { openParts } from "../common/rules";

export const stockRuns = rule(["system", "started", "assumed"], ({ state }) => {
  if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
  return state.system === "stock" && state.started !== "broken"
    ? HOLDS
    : fails("update.needs-stock", "Official updates go only on the maker's own, running system");
});

export const updateFollows = imageRule(["api", "baseBuild", "assumed"], ({ entry, state }) => {
  const from = entry.image.needs.fromReleases;
  if (state.assumed.includes("android.release")) return unknown("release.unknown", "android.release");
  const same = entry.image.build !== null && entry.image.build === state.baseBuild;
  if (entry.api < state.api || same)
    return fails("image.not-needed", `The device already runs ${describeRelease(state.api)}`);
  const here = releaseOf(state.api);
  if (from.length && !(here && from.includes(here)))
    return fails("update.wrong-base", `This update goes only on Android ${from.join(" or ")}; the device runs ${here}`);
  return HOLDS;
});

/** Facts behind "wholly stock" that may be open on a device that is not known to be locked. */
export const STOCK_FACTS = ["recovery.image", "verification.off", "product.removed"] as const;

/** An official update checks every partition it patches: a custom recovery or switched-off verification stops it. */
export const whollyStockOrLocked = rule(["recovery", "verification", "product", "assumed"], ({ state }) => {
  if (state.recovery !== "stock" || state.verification !== "on" || state.product !== "present")
    return fails("update.needs-stock", "Something on the device is no longer the maker's: the update would refuse");
  return openParts(state, STOCK_FACTS) ?? HOLDS;
});

/** Official updates come first: on a device unlocked or wiped in this plan they refuse, or the set-up is done twice. */
export const updatesComeFirst = rule(
  ["permission", "locked", "storage", "whole", "started"],
  ({ state, device: { facts } }) => {
    // Behind a stock package that has started, the maker's updates go on as on a new device.
    if (state.whole && state.started === "running") return HOLDS;
    const had = (key: "unlock.granted" | "unlock.asked" | "bootloader.locked" | "storage.state", value: unknown) => {
      const looked = lookUp(facts, key);
      return !looked.isUnknown && looked.value === value;
    };
    const untouched =
      (state.permission === "none" || had("unlock.granted", true) || had("unlock.asked", true)) &&
      (state.locked || had("bootloader.locked", false)) &&
      (state.storage !== "clean" || had("storage.state", "clean"));
    return untouched
      ? HOLDS
      : fails("order.wrong-moment", "Take official updates before anything is unlocked or wiped");
  },
);
