import { apiOf } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import { type CurrentFacts, lookUp, type ValueOf } from "~/core/device/lookUp";
import { asRead } from "./asRead";
import type { CatalogueIndex } from "./catalogueIndex";

/** What runs: the maker's system, a custom ROM, a generic image; "none" after a write that was not finished. */
export type SystemKind = "stock" | "custom" | "generic" | "none";

/** What runs where an image is installed: stock packages and official updates are the maker's own system. */
export function systemKindOf(image: Pick<Image, "kind">): Exclude<SystemKind, "none"> {
  return image.kind === "rom" ? "custom" : image.kind === "gsi" ? "generic" : "stock";
}

/**
 * What planning needs to know of a device, as small as it can be. Every part of it is a fact (`stateFacts.ts` has the
 * way back): read, asked, or made by a step that was done.
 *
 * `base*` is the stock build whose vendor part lies under the running system. Where a fact is not known, the state holds
 * what a careful person would try first and names the fact in `assumed`; rules that touch it answer "unknown".
 */
export interface PlanState {
  readonly system: SystemKind;
  /** Image that runs, where it is known. */
  readonly image: string | null;
  readonly api: number;
  readonly patch: string | null;
  readonly baseBuild: string | null;
  readonly baseApi: number;
  readonly basePatch: string | null;
  readonly firmware: string | null;
  readonly locked: boolean;
  readonly permission: "none" | "asked" | "granted";
  /** "stock", or the id of the recovery image that was flashed, or its name where the catalogue does not have it. */
  readonly recovery: string;
  /** `workshop`: somebody here walked through the set-up, and the workshop's Wi-Fi is on it. */
  readonly storage: "donor" | "workshop" | "clean" | "must-format";
  readonly verification: "on" | "off";
  /** Services add-on that was installed beside the system. */
  readonly services: string | null;
  readonly product: "present" | "removed";
  /** List by which the stock system was cleaned; null: nothing was taken from it. A wipe, an update or another system brings all back. */
  readonly cleaned: string | null;
  /** `fresh`: written and not started yet. */
  readonly started: "running" | "fresh" | "broken";
  /** A whole stock package was written in this plan, and nothing else since: never a fact, always seen to be done. */
  readonly whole: boolean;
  readonly assumed: readonly FactKey[];
}

/** The device as the rules see it: its model with what was read in place of the record. */
export interface PlanDevice {
  readonly model: Model;
  readonly facts: CurrentFacts;
}

/**
 * A model and what is known of one device of it, for the rules.
 *
 * @example planDeviceOf(model, facts).model.slots // true …
 */
export const planDeviceOf = (model: Model, facts: CurrentFacts): PlanDevice => ({ model: asRead(model, facts), facts });

/** Facts that planning depends on; two devices alike in these (and model, need, clearance) have the same plan. */
export const PLANNING_FACTS: readonly FactKey[] = [
  "android.release",
  "build.number",
  "build.patch",
  "base.build",
  "base.release",
  "base.patch",
  "firmware.version",
  "system.kind",
  "system.image",
  "system.starts",
  "recovery.image",
  "verification.off",
  "product.removed",
  "services.addon",
  "system.cleaned",
  "bootloader.locked",
  "boot.state",
  "unlock.granted",
  "unlock.asked",
  "unlock.ability",
  "slots.count",
  "slot.current",
  "treble.supported",
  "launch.api",
  "partitions.logical",
  "fastboot.userspace",
  "cpu.arch",
  "kernel.binder",
  "system.as-root",
  "room.system",
  "room.product",
  "storage.state",
  "storage.free",
  "accounts.on",
  "hardware.broken",
  "device.region",
  "fuse.level",
  "fuse.blown",
  "board.chip",
  "storage.encrypted",
  "gsi.failed",
  "board.dumped",
  "board.dumped-release",
];

const STARTS = { yes: "running", "not-yet": "fresh", no: "broken" } as const;

/**
 * The state a device is in before anything is done.
 *
 * @example initialState(planDeviceOf(model, facts), index).unlocked // false …
 */
export function initialState(device: PlanDevice, index: CatalogueIndex): PlanState {
  const { facts, model } = device;
  const assumed: FactKey[] = [];
  /** The value of a fact; where it is not known, what is tried first, and the fact is named as open. */
  const known = <K extends FactKey, T>(key: K, otherwise: T, ask = true): ValueOf<K> | T => {
    const looked = lookUp(facts, key);
    if (!looked.isUnknown) return looked.value;
    if (ask) assumed.push(key);
    return otherwise;
  };
  const build = known("build.number", null);
  const running = runningImage(known("system.image", null, false), build, model, index);
  const state = lookUp(facts, "boot.state");
  // Green: locked, and everything that starts is signed with the maker's own key (AOSP, Verified Boot, boot flow). Nothing else can run.
  const green = !state.isUnknown && state.value === "green";
  const told = running ? systemKindOf(running) : green ? "stock" : null;
  const system = known("system.kind", told, told === null) ?? "stock";
  const starts = lookUp(facts, "system.starts");
  const started = system === "none" ? "broken" : starts.isUnknown ? "running" : STARTS[starts.value];
  const release = system === "none" ? known("android.release", null, false) : known("android.release", null);
  const api = (release === null ? null : apiOf(release)) ?? model.launchApi;
  const patch = known("build.patch", running?.patch ?? null, false);
  const stock = system === "stock";
  const overBase = system === "generic" || system === "none";
  const baseRelease = overBase ? known("base.release", null) : null;
  const locked = known("bootloader.locked", true);
  // A bootloader that is known to be locked starts nothing but the maker's own, unless it was locked with somebody else's
  // key (boot state yellow); an unlocked one is never taken for it.
  const foreignKey = !state.isUnknown && state.value === "yellow";
  const sealed = locked && !assumed.includes("bootloader.locked") && !foreignKey;
  const permission = known("unlock.granted", false, false)
    ? "granted"
    : known("unlock.asked", false, false)
      ? "asked"
      : "none";
  const services = known("services.addon", null, system === "custom");
  const cleaned = known("system.cleaned", null, false);
  return {
    system,
    image: running?.id ?? null,
    api,
    patch,
    baseBuild: stock ? build : overBase ? known("base.build", null) : null,
    baseApi: stock ? api : ((baseRelease === null ? null : apiOf(baseRelease)) ?? model.launchApi),
    basePatch: stock ? patch : known("base.patch", null, false),
    firmware: known("firmware.version", null),
    locked,
    permission,
    recovery: recoveryNamed(known("recovery.image", "stock", !sealed), index),
    storage: known("storage.state", started === "broken" ? "must-format" : "donor", false),
    verification:
      // Only with verification off does a generic image start at all.
      known("verification.off", system === "generic" && started === "running", !sealed && system !== "generic")
        ? "off"
        : "on",
    services: services === null || /^none$/i.test(services) ? null : services,
    product:
      model.room.product !== null && known("product.removed", false, !sealed && model.logical) ? "removed" : "present",
    started,
    cleaned: cleaned === null || /^none$/i.test(cleaned) ? null : cleaned,
    whole: false,
    assumed,
  };
}

/** The image that runs: as a step left it, unless another build number was read since; else the one of that build. */
function runningImage(named: string | null, build: string | null, model: Model, index: CatalogueIndex): Image | null {
  const image = named === null ? undefined : index.images.get(named)?.image;
  if (image && (build === null || image.build === null || image.build === build)) return image;
  if (build === null) return null;
  return index.imagesFor(model).find((e) => SYSTEMS.has(e.image.kind) && e.image.build === build)?.image ?? null;
}

/** A recovery as a person or a step wrote it: the maker's own, one of the catalogue by id or title, or another. */
function recoveryNamed(text: string, index: CatalogueIndex): string {
  if (/^stock$/i.test(text)) return "stock";
  if (index.images.has(text)) return text;
  for (const { image } of index.images.values())
    if (image.kind === "recovery" && image.title.toLowerCase() === text.toLowerCase()) return image.id;
  return text;
}

const SYSTEMS = new Set(["official-update", "stock", "rom", "gsi"]);

/** What brings back everything that was taken from a stock system: storage that becomes clean, or another system. */
const bringsAllBack = (s: PlanState, change: Partial<PlanState>) =>
  change.image !== undefined || (change.storage === "clean" && s.storage !== "clean");

const or = <T>(next: T | undefined, was: T): T => (next === undefined ? was : next);

/**
 * A state with some of its fields changed. Written out field by field: the search makes hundreds of thousands of states,
 * and object spread over states of mixed origin is many times slower.
 *
 * @example after(state, { unlocked: true }).unlocked // true …
 */
export function after(s: PlanState, change: Partial<PlanState>): PlanState {
  return {
    system: or(change.system, s.system),
    image: or(change.image, s.image),
    api: or(change.api, s.api),
    patch: or(change.patch, s.patch),
    baseBuild: or(change.baseBuild, s.baseBuild),
    baseApi: or(change.baseApi, s.baseApi),
    basePatch: or(change.basePatch, s.basePatch),
    firmware: or(change.firmware, s.firmware),
    locked: or(change.locked, s.locked),
    permission: or(change.permission, s.permission),
    recovery: or(change.recovery, s.recovery),
    storage: or(change.storage, s.storage),
    verification: or(change.verification, s.verification),
    services: or(change.services, s.services),
    product: or(change.product, s.product),
    started: or(change.started, s.started),
    cleaned: change.cleaned !== undefined ? change.cleaned : bringsAllBack(s, change) ? null : s.cleaned,
    whole: or(change.whole, s.whole),
    assumed: or(change.assumed, s.assumed),
  };
}

/**
 * The same state with facts that an operation has settled.
 *
 * @example settled(["slot.current", "cpu.arch"], ["cpu.arch"]) // ["slot.current"]
 */
export function settled(assumed: readonly FactKey[], keys: readonly FactKey[]): readonly FactKey[] {
  return assumed.some((k) => keys.includes(k)) ? assumed.filter((k) => !keys.includes(k)) : assumed;
}

/** True where two states are the same in these fields: nothing that looks at no others can tell them apart. */
export function areAlike(a: PlanState, b: PlanState, fields: readonly (keyof PlanState)[]): boolean {
  for (let i = 0; i < fields.length; i++) if (a[fields[i]] !== b[fields[i]]) return false;
  return true;
}
