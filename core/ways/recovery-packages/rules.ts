import { compareFirmware } from "~/core/android/firmwareVersion";
import { expandedBytes } from "~/core/catalogue/image";
import { lookUp } from "~/core/device/lookUp";
import type { CatalogueIndex, IndexedImage } from "~/core/upgrade/catalogueIndex";
import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";
import type { PlanState } from "~/core/upgrade/state";
import { mib } from "../common/rules";

/** The recovery that is on the device, where the catalogue knows it. */
export const recoveryOf = (index: CatalogueIndex, state: Pick<PlanState, "recovery">): IndexedImage | null =>
  state.recovery === "stock" ? null : (index.images.get(state.recovery) ?? null);

export const recoveryInstalls = imageRule(["recovery", "assumed"], ({ entry, state, index }) => {
  const recovery = recoveryOf(index, state);
  const wantsOwn = entry.image.installs === "sideload";
  if (!recovery || (recovery.image.flavour === "rom") !== wantsOwn)
    return fails("recovery.missing", wantsOwn ? "Needs the ROM's own recovery first" : "Needs a custom recovery first");
  if (wantsOwn && recovery.image.release !== entry.image.release)
    return fails(
      "recovery.other-release",
      `The recovery is for Android ${recovery.image.release}, the ROM is ${entry.image.release}: they must be the same`,
    );
  const least = entry.image.needs.recoveryVersion;
  if (least) {
    const order = compareFirmware([], recovery.image.version, least);
    if (order === null || order < 0)
      return fails(
        "recovery.too-old",
        `Needs recovery ${least} or later; ${recovery.image.title} is ${recovery.image.version}`,
      );
  }
  const pair = index.incompatible(entry.image.id, recovery.image.id);
  return pair ? fails("pair.incompatible", `Does not work with ${recovery.image.title}: ${pair.says}`) : HOLDS;
});

export const hasCustomRecovery = rule(["recovery"], ({ state, index }) =>
  recoveryOf(index, state)?.image.flavour === "custom"
    ? HOLDS
    : fails("recovery.missing", "Needs a custom recovery first"),
);

export const recoveryFits = imageRule([], ({ entry, device }) => {
  if (entry.image.flavour === "rom") return HOLDS;
  const room = device.model.room.recovery;
  if (room === null) return fails("recovery.no-partition", "This model has no recovery partition of its own");
  return entry.expanded <= room
    ? HOLDS
    : fails("gsi.room", `The recovery is ${mib(entry.expanded - room)} larger than its partition`);
});

/** A recovery that is on the device already is not flashed again. */
export const notThisRecovery = imageRule(["recovery"], ({ entry, state }) =>
  state.recovery === entry.image.id
    ? fails("order.wrong-moment", `This recovery is on it already (${entry.image.id})`)
    : HOLDS,
);

/** Going down a release: through stock, unless the house goes directly and the model has a recorded success. */
export const downgradeAllowed = imageRule(["api", "system", "assumed"], ({ entry, state, device, policy }) => {
  // What was not written to its end is no release to go down from: it is formatted in any case.
  if (state.system === "none") return HOLDS;
  if (state.assumed.includes("android.release")) return unknown("release.unknown", "android.release");
  if (state.assumed.includes("system.kind")) return unknown("system.unknown", "system.kind");
  if (entry.api >= state.api || state.system === "stock") return HOLDS;
  if (policy.goingDown === "direct" && device.model.directDowngrade) return HOLDS;
  return fails(
    "downgrade.via-stock",
    policy.goingDown === "direct"
      ? "Going down directly has no recorded success on this model: go through stock"
      : "Going down a release goes through stock first (policy)",
  );
});

/** Bytes a package takes on the partition, where its record tells; 0 where it does not. */
const told = (entry: IndexedImage) =>
  entry.image.files.some((f) => f.expanded !== null) ? expandedBytes(entry.image) : 0;

/** The ROM fits the system partition, where its record tells how large it is unpacked. */
export const romFits = imageRule([], ({ entry, device }) =>
  told(entry) <= device.model.room.system
    ? HOLDS
    : fails(
        "rom.room",
        `Unpacked it is ${mib(told(entry) - device.model.room.system)} larger than the system partition`,
      ),
);

/** A package that is copied to the device fits its free storage, where that was read. */
export const packageFits = imageRule([], ({ entry, device }) => {
  if (entry.image.installs === "sideload") return HOLDS;
  const free = lookUp(device.facts, "storage.free");
  return free.isUnknown || entry.bytes <= free.value
    ? HOLDS
    : fails(
        "storage.room",
        `The package is ${mib(entry.bytes - free.value)} larger than the free storage: bring it on a stick, or make room and read it again`,
      );
});

export const freshRom = rule(["started", "system"], ({ state }) =>
  state.started === "fresh" && state.system === "custom"
    ? HOLDS
    : fails("services.after-start", "The services add-on goes on before the first start, right after the ROM"),
);

/** The house takes services from an add-on, or only from systems that have them inside. */
export const addOnWanted = rule([], ({ policy }) =>
  policy.services === "beside"
    ? HOLDS
    : fails("services.inside", "The house takes only systems that have the services inside: no add-on (policy)"),
);

export const servicesMatch = imageRule(["image", "services"], ({ entry, state, index, device }) => {
  const rom = state.image ? index.images.get(state.image) : undefined;
  if (!rom) return fails("services.after-start", "There is no freshly installed ROM to add services to");
  if (rom.image.services) return fails("services.built-in", `${rom.image.title} brings the services already`);
  if (state.services) return fails("order.wrong-moment", "A services add-on is on it already");
  if (rom.image.release !== entry.image.release)
    return fails(
      "services.other-release",
      `The add-on is for Android ${entry.image.release}, the ROM is ${rom.image.release}`,
    );
  const pair = index.incompatible(entry.image.id, rom.image.id);
  if (pair) return fails("pair.incompatible", `Does not work with ${rom.image.title}: ${pair.says}`);
  const [room, both] = [device.model.room.system, told(rom) + told(entry)];
  return told(rom) > 0 && told(entry) > 0 && both > room
    ? fails("rom.room", `With ${rom.image.title} it is ${mib(both - room)} larger than the system partition`)
    : HOLDS;
});
