import { releaseOf } from "~/core/android/releases";
import type { FactKey, FactValue } from "~/core/device/fact";
import type { CatalogueIndex } from "./catalogueIndex";
import type { PlanState } from "./state";

/** Values of facts by key; null: not known, or not any more. */
export type FactChange = Partial<Record<FactKey, FactValue | null>>;

const STARTS = { running: "yes", fresh: "not-yet", broken: "no" } as const;

/** The facts that a state consists of: the way back from `initialState`. */
export function factsOfState(s: PlanState, index: CatalogueIndex): FactChange {
  const over = s.system === "generic" || s.system === "none";
  const image = s.image === null ? undefined : index.images.get(s.image)?.image;
  return {
    "system.kind": s.system,
    "system.image": s.image,
    "system.starts": STARTS[s.started],
    "android.release": s.system === "none" ? null : releaseOf(s.api),
    "build.number": s.system === "stock" ? s.baseBuild : (image?.build ?? null),
    "build.patch": s.patch,
    "base.build": over ? s.baseBuild : null,
    "base.release": over && !s.assumed.includes("base.release") ? releaseOf(s.baseApi) : null,
    "base.patch": s.system === "stock" ? null : s.basePatch,
    "firmware.version": s.firmware,
    "bootloader.locked": s.locked,
    "unlock.granted": s.permission === "granted",
    "unlock.asked": s.permission === "asked",
    "recovery.image": s.recovery,
    "verification.off": s.verification === "off",
    "product.removed": s.product === "removed",
    "services.addon": s.services ?? "none",
    "system.cleaned": s.cleaned ?? "none",
    "storage.state": s.storage,
  };
}

/**
 * What an operation makes of a device, as facts: those that differ behind it, and those that were open before.
 *
 * @example changedFacts(locked, unlocked, …) // { "bootloader.locked": false, "storage.state": "clean" }
 */
export function changedFacts(before: PlanState, behind: PlanState, index: CatalogueIndex): FactChange {
  const [was, is] = [factsOfState(before, index), factsOfState(behind, index)];
  const change: FactChange = {};
  for (const key of Object.keys(is) as FactKey[]) {
    const settled = before.assumed.includes(key) && !behind.assumed.includes(key);
    if (behind.assumed.includes(key) && !before.assumed.includes(key)) change[key] = null;
    else if (was[key] !== is[key] ? !behind.assumed.includes(key) : settled) change[key] = is[key] ?? null;
  }
  // The boot state that was read tells of the lock as it was.
  if ("bootloader.locked" in change) Object.assign(change, { "boot.state": null }, toldByLock(behind, is));
  return change;
}

/** What a lock tells of a device, unread: that all on it is the maker's own. Once it is open, it has to be said. */
const TOLD_BY_LOCK = ["system.kind", "recovery.image", "verification.off", "product.removed"] as const;

const toldByLock = ({ assumed }: PlanState, facts: FactChange): FactChange =>
  Object.fromEntries(TOLD_BY_LOCK.flatMap((key) => (assumed.includes(key) ? [] : [[key, facts[key] ?? null]])));

/**
 * What is left to know of a device that does not start after an operation was begun and not finished: whatever it would have
 * changed is open again. A system that was being written is none any more.
 *
 * @param keepsBase the operation leaves the maker's boot and vendor part as they are: what is under the system is still known
 * @example interruptedFacts(before, behind, true, index) // { "system.starts": "no", … }
 */
export function interruptedFacts(
  before: PlanState,
  behind: PlanState,
  keepsBase: boolean,
  index: CatalogueIndex,
): FactChange {
  const change: FactChange = {};
  for (const key of Object.keys(changedFacts(before, behind, index)) as FactKey[]) change[key] = null;
  change["system.starts"] = "no";
  const written = before.image !== behind.image || before.system !== behind.system || before.product !== behind.product;
  if (!written && behind.started !== "broken")
    return { ...change, ...("bootloader.locked" in change ? toldByLock(before, factsOfState(before, index)) : {}) };
  const base = keepsBase ? before : null;
  return {
    ...change,
    "system.kind": "none",
    "system.image": null,
    "android.release": null,
    "build.number": null,
    "build.patch": null,
    "base.build": base?.baseBuild ?? null,
    "base.release": base && !base.assumed.includes("base.release") ? releaseOf(base.baseApi) : null,
    "base.patch": base?.basePatch ?? null,
  };
}
