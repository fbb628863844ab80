import { apiOf } from "~/core/android/releases";
import { boardPartitions } from "~/core/catalogue/boardList";
import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { CurrentFacts } from "~/core/device/lookUp";
import { currentValue } from "~/core/device/lookUp";
import { labelOf } from "~/core/files/standIn";
import { packagesFromList } from "./packages/fromList";
import { type Content, PhoneState } from "./state";

export interface PhoneRequest {
  readonly tag: string;
  readonly serial: string | null;
  readonly model: Model;
  readonly facts: CurrentFacts;
  readonly images: readonly Image[];
}

/** Larger cards were refused where one of 8 GB worked. Common practice, no source. */
const LARGEST_CARD = 8_100_000_000;

const SYSTEMS = ["official-update", "stock", "rom", "gsi"];

/** Makes a phone out of what is known of a device, as it is now; what is not known gets the model's usual value. */
export function phoneFromCatalogue(request: PhoneRequest): PhoneState {
  const { model, facts, images } = request;
  const known = <K extends Parameters<typeof currentValue>[1]>(key: K) => currentValue(facts, key);
  const codename = (id: string) => (id === model.id ? model.codename : undefined);
  const content = (image: Image): Content => ({
    ...labelOf(image, codename),
    size: 4096,
    verificationOff: false,
    spoiled: null,
  });
  const own = images.filter((i) => i.models.includes(model.id) || i.models.length === 0);
  const stockOf = (build: string | undefined, release: string | undefined, patch: string | undefined): Content => {
    const image = own.find((i) => build && i.build === build && (i.kind === "official-update" || i.kind === "stock"));
    return image ? content(image) : asDonated(model, build, release, patch);
  };
  const build = known("build.number");
  const release = known("android.release");
  const byId = own.find((i) => i.id === known("system.image") && SYSTEMS.includes(i.kind));
  const running =
    byId && (!build || !byId.build || byId.build === build)
      ? byId
      : own.find((i) => build && i.build === build && SYSTEMS.includes(i.kind));
  const kind =
    known("system.kind") ?? (running?.kind === "rom" ? "custom" : running?.kind === "gsi" ? "generic" : "stock");
  const makers = running?.kind === "official-update" || running?.kind === "stock" ? running : undefined;
  const stock = kind === "stock" ? (makers ? content(makers) : stockOf(build, release, known("build.patch"))) : null;
  // What lies under a system that is not the maker's.
  const base = stock ?? stockOf(known("base.build"), known("base.release"), known("base.patch"));
  const foreign =
    running && kind !== "stock"
      ? content(running)
      : {
          ...base,
          kind: kind === "generic" ? "gsi" : "rom",
          api: (release ? apiOf(release) : null) ?? base.api,
          release: release ?? base.release,
        };
  const system = kind === "none" ? null : (stock ?? foreign);
  const boot = kind === "custom" && system ? system : base;
  const recovery = own.find((i) => i.kind === "recovery" && i.id === known("recovery.image"));
  const partitions: Record<string, Content | null> = {};
  for (const suffix of model.slots ? ["_a", "_b"] : [""]) {
    for (const name of model.slots ? ["vendor_boot", "dtbo", "radio"] : ["radio"])
      partitions[`${name}${suffix}`] = base;
    partitions[`boot${suffix}`] = boot;
    partitions[`system${suffix}`] = system;
    if (model.room.product) partitions[`product${suffix}`] = base;
    if (model.slots || model.treble)
      partitions[`vbmeta${suffix}`] = {
        ...base,
        verificationOff: known("verification.off") ?? kind === "generic",
      };
  }
  if (!model.slots) partitions.recovery = recovery ? content(recovery) : base;
  else if (recovery)
    for (const { partition } of recovery.files)
      if (partition) for (const suffix of ["_a", "_b"]) partitions[`${partition}${suffix}`] = content(recovery);
  // A ROM that runs has put its own boot image in the place of the recovery's.
  if (recovery && system && kind === "custom")
    for (const suffix of model.slots ? ["_a", "_b"] : [""]) partitions[`boot${suffix}`] = system;
  if (model.flash === "download-mode") for (const name of ["bootloader", "region"]) partitions[name] = base;
  const rows = model.loader ? [...boardPartitions(model.loader.list)] : [];
  for (const name of rows) if (name !== "userdata") partitions[name] ??= base;
  const slot = model.slots ? (known("slot.current") ?? "a") : null;
  const suffix = slot ? `_${slot}` : "";
  const logicalSizes: Record<string, number> = {};
  if (model.logical) {
    logicalSizes[`system${suffix}`] = Math.min(model.room.system, 1_400_000_000);
    if (model.room.product && !known("product.removed")) logicalSizes[`product${suffix}`] = model.room.product;
  }
  if (known("product.removed")) partitions[`product${suffix}`] = null;
  const addOn = own.find((i) => i.id === known("services.addon"));
  partitions.services = addOn ? content(addOn) : null;
  const locked = kind === "stock" ? (known("bootloader.locked") ?? true) : (known("bootloader.locked") ?? false);
  const starts = known("system.starts");
  const storage = known("storage.state");
  const dataKind = kind === "none" ? "stock" : kind;
  const data = { kind: dataKind, api: system?.api ?? base.api, donor: storage !== "workshop" };
  // What the maker puts on is much the same in every build: where a build has no list, another of the model stands for it.
  const lists = kind === "stock" ? own.filter((i) => i.kind === "package-list") : [];
  const list = lists.find((i) => i.build === build) ?? lists[0];
  const serial = request.serial ?? `SIM-${request.tag}`;
  return PhoneState.parse({
    tag: request.tag,
    serial,
    identity: Object.fromEntries(model.identity.map((p) => [p, serial])),
    codename: model.codename,
    maker: model.maker,
    modelNumber: known("model.number") ?? model.modelNumbers[0],
    launchApi: model.launchApi,
    board: model.board,
    cpu: known("cpu.arch") ?? model.cpu,
    slots: model.slots,
    userspaceFastboot: known("fastboot.userspace") ?? model.userspaceFastboot,
    logical: model.logical,
    treble: model.treble,
    maxDownload: model.maxDownload,
    rooms: roomsOf(model),
    unlock: { possible: model.unlock.possible, waitingDays: model.unlock.waitingDays, command: model.unlock.command },
    firmwareOrder: model.firmware.order,
    dangerous: model.firmware.dangerous,
    restoresRecovery: model.stockRestoresRecovery,
    mode: starts === "no" || kind === "none" ? "bootloop" : starts === "not-yet" ? "off" : "android",
    locked,
    permission: !locked || known("unlock.granted") ? "granted" : known("unlock.asked") ? "asked" : "none",
    accounts: known("accounts.on") ?? true,
    battery: known("battery.percent") ?? 80,
    slot,
    firmware: known("firmware.version") ?? model.firmware.order[0],
    partitions,
    logicalSizes,
    fresh: starts === "not-yet",
    // Data of another system is what most often keeps a device from starting.
    data:
      storage === "clean"
        ? null
        : storage === "must-format" || (starts === "no" && system)
          ? { ...data, api: 99 }
          : data,
    metadata: model.treble && storage !== "clean" ? { kind: dataKind, api: data.api } : null,
    download:
      model.flash === "download-mode"
        ? {
            region: known("device.region") ?? null,
            fuseLevel: known("fuse.level") ?? 1,
            fuseBlown: known("fuse.blown") ?? false,
            relocksItself: model.download?.greyedToggle ?? false,
            toggleSeen: !locked,
          }
        : null,
    card: model.card ? { largest: model.card.largest ?? LARGEST_CARD, region: known("device.region") ?? null } : null,
    loader: model.loader ? { chip: known("board.chip") ?? model.loader.chip, rows, list: model.loader.list } : null,
    encryption: {
      kind: model.download?.encryption ?? null,
      on: known("storage.encrypted") ?? (kind === "stock" && model.download?.encryption != null),
    },
    packages: packagesFromList(list, known("system.cleaned") === list?.id ? removedBy(list) : []),
    offers: own.filter((i) => i.kind === "official-update").map(content),
  });
}

const removedBy = (list: Image | undefined) => list?.packages?.remove.map((p) => p.name) ?? [];

function asDonated(
  model: Model,
  build: string | undefined,
  release: string | undefined,
  patch: string | undefined,
): Content {
  return {
    image: "as-donated",
    kind: "stock",
    release: release ?? "10",
    api: (release ? apiOf(release) : null) ?? model.launchApi,
    build: build ?? "as-donated",
    firmware: null,
    patch: patch ?? null,
    version: "",
    flavour: null,
    installs: null,
    cpu: null,
    devices: [model.codename],
    firmwareFrom: null,
    firmwareTo: null,
    recoveryVersion: null,
    fromReleases: [],
    size: 4096,
    verificationOff: false,
    spoiled: null,
  };
}

function roomsOf(model: Model): Record<string, number> {
  const rooms: Record<string, number> = {
    boot: model.room.boot,
    vendor_boot: model.room.boot,
    dtbo: 16_777_216,
    vbmeta: 65_536,
    radio: 134_217_728,
    bootloader: 33_554_432,
    system: model.room.system,
  };
  if (model.room.recovery) rooms.recovery = model.room.recovery;
  if (model.room.product) rooms.product = model.room.product;
  return rooms;
}
