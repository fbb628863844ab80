import { apiOf } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import { type CurrentFacts, lookUp } from "~/core/device/lookUp";
import type { CatalogueIndex } from "./catalogueIndex";

export type SystemKind = "stock" | "custom" | "generic";

/** What runs where an image is installed: stock packages and official updates are the maker's own system. */
export function systemKindOf(image: Pick<Image, "kind">): SystemKind {
  return image.kind === "rom" ? "custom" : image.kind === "gsi" ? "generic" : "stock";
}

/**
 * What planning needs to know of a device, as small as it can be.
 *
 * `base*` is the stock build whose vendor part lies under the running system. Where a fact is not known, the state holds
 * the assumption a careful person would make and names the fact in `assumed`; rules that touch it answer "unknown".
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
  /** "stock", or the id of the recovery image that was flashed. */
  readonly recovery: string;
  readonly storage: "donor" | "clean" | "must-format";
  readonly verification: "on" | "off";
  /** Services add-on that was installed beside the system. */
  readonly services: string | null;
  readonly product: "present" | "removed";
  /** `fresh`: written in this plan and not started yet. */
  readonly started: "running" | "fresh" | "broken";
  readonly assumed: readonly FactKey[];
}

/** The device as the rules see it. */
export interface PlanDevice {
  readonly model: Model;
  readonly facts: CurrentFacts;
}

/** Facts that planning depends on; two devices alike in these (and model, need, clearance) have the same plan. */
export const PLANNING_FACTS: readonly FactKey[] = [
  "android.release",
  "build.number",
  "build.patch",
  "firmware.version",
  "system.kind",
  "system.image",
  "bootloader.locked",
  "unlock.granted",
  "slots.count",
  "slot.current",
  "treble.supported",
  "fastboot.userspace",
  "cpu.arch",
  "kernel.binder",
  "system.as-root",
  "room.system",
  "room.product",
  "storage.state",
  "hardware.broken",
];

/** The state a device is in before anything is done. */
export function initialState(device: PlanDevice, index: CatalogueIndex): PlanState {
  const { facts, model } = device;
  const assumed: FactKey[] = [];
  const known = <T extends string | number | boolean>(key: FactKey, otherwise: T, ask = true): T => {
    const looked = lookUp<T>(facts, key);
    if (!looked.isUnknown) return looked.value;
    if (ask) assumed.push(key);
    return otherwise;
  };
  const build = lookUp<string>(facts, "build.number");
  const named = lookUp<string>(facts, "system.image");
  const running = named.isUnknown
    ? build.isUnknown
      ? null
      : (index.imagesFor(model).find((e) => SYSTEMS.has(e.image.kind) && e.image.build === build.value) ?? null)
    : (index.images.get(named.value) ?? null);
  const kindOfRunning = running && systemKindOf(running.image);
  const system = lookUp<SystemKind>(facts, "system.kind");
  const kind = system.isUnknown ? (kindOfRunning ?? known<SystemKind>("system.kind", "stock")) : system.value;
  const release = lookUp<string>(facts, "android.release");
  const api = release.isUnknown ? known("android.release", "", true) && model.launchApi : apiOf(release.value);
  const patch = lookUp<string>(facts, "build.patch");
  if (build.isUnknown) assumed.push("build.number");
  const stock = kind === "stock";
  return {
    system: kind,
    image: running?.image.id ?? null,
    api: api || model.launchApi,
    patch: patch.isUnknown ? (running?.image.patch ?? null) : patch.value,
    baseBuild: stock && !build.isUnknown ? build.value : null,
    baseApi: stock ? api || model.launchApi : model.launchApi,
    basePatch: stock && !patch.isUnknown ? patch.value : null,
    firmware: known<string>("firmware.version", "") || null,
    locked: known("bootloader.locked", true),
    permission: known("unlock.granted", false, false) ? "granted" : "none",
    recovery: "stock",
    storage: known<"donor" | "clean">("storage.state", "donor", false),
    verification: kind === "generic" ? "off" : "on",
    services: null,
    product: "present",
    started: "running",
    assumed,
  };
}

const SYSTEMS = new Set(["official-update", "stock", "rom", "gsi"]);

const or = <T>(next: T | undefined, was: T): T => (next === undefined ? was : next);

/**
 * A state with some of its fields changed. Written out field by field: the search makes hundreds of thousands of states,
 * and object spread over states of mixed origin is many times slower.
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
    assumed: or(change.assumed, s.assumed),
  };
}

const SYSTEM_NUMBER = { stock: 0, custom: 1, generic: 2 };
const PERMISSION_NUMBER = { none: 0, asked: 1, granted: 2 };
const STORAGE_NUMBER = { donor: 0, clean: 1, "must-format": 2 };
const STARTED_NUMBER = { running: 0, fresh: 1, broken: 2 };

/** A text that is equal for states that are interchangeable for the search: the small fields packed into one number. */
export function stateKey(s: PlanState): string {
  const small =
    SYSTEM_NUMBER[s.system] |
    (PERMISSION_NUMBER[s.permission] << 2) |
    (STORAGE_NUMBER[s.storage] << 4) |
    (STARTED_NUMBER[s.started] << 6) |
    (s.locked ? 256 : 0) |
    (s.verification === "off" ? 512 : 0) |
    (s.product === "removed" ? 1024 : 0) |
    (s.api << 11);
  return `${small}|${s.image}|${s.baseBuild}|${s.firmware}|${s.recovery}|${s.services}|${s.assumed.length ? s.assumed.join() : ""}`;
}

/** The same state with facts that an operation has settled. */
export function settled(assumed: readonly FactKey[], keys: readonly FactKey[]): readonly FactKey[] {
  return assumed.some((k) => keys.includes(k)) ? assumed.filter((k) => !keys.includes(k)) : assumed;
}
