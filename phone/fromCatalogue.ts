import { apiOf } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { CurrentFacts } from "~/core/device/lookUp";
import { currentValue } from "~/core/device/lookUp";
import { labelOf } from "~/core/files/standIn";
import { type Content, PhoneState } from "./state";

export interface PhoneRequest {
  readonly tag: string;
  readonly serial: string | null;
  readonly model: Model;
  readonly facts: CurrentFacts;
  readonly images: readonly Image[];
}

/** Makes a phone out of what is known of a device; what is not known gets the model's usual value. */
export function phoneFromCatalogue(request: PhoneRequest): PhoneState {
  const { model, facts, images } = request;
  const codename = (id: string) => (id === model.id ? model.codename : undefined);
  const content = (image: Image): Content => ({
    ...labelOf(image, codename),
    size: 4096,
    verificationOff: false,
    spoiled: null,
  });
  const known = <T extends string | number | boolean>(key: Parameters<typeof currentValue>[1]) =>
    currentValue<T>(facts, key);
  const own = images.filter((i) => i.models.includes(model.id));
  const build = known<string>("build.number");
  const release = known<string>("android.release");
  const running = own.find((i) => i.build === build && ["official-update", "stock", "rom"].includes(i.kind));
  const stock: Content = {
    image: "as-donated",
    kind: "stock",
    release: release ?? "10",
    api: (release ? apiOf(release) : null) ?? model.launchApi,
    build: build ?? "as-donated",
    firmware: null,
    patch: known<string>("build.patch") ?? null,
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
  const system = running ? content(running) : stock;
  const custom = known<string>("system.kind") === "custom" || running?.kind === "rom";
  const partitions: Record<string, Content | null> = {};
  const slots = model.slots ? ["_a", "_b"] : [""];
  for (const suffix of slots) {
    for (const name of model.slots ? ["boot", "vendor_boot", "dtbo", "vbmeta", "radio"] : ["boot", "radio"])
      partitions[`${name}${suffix}`] = system;
    partitions[`system${suffix}`] = system;
    if (model.room.product) partitions[`product${suffix}`] = system;
  }
  if (!model.slots) {
    partitions.recovery = system;
    if (model.treble) partitions.vbmeta = system;
  }
  const slot = model.slots ? ((known<string>("slot.current") as "a" | "b" | undefined) ?? "a") : null;
  const logicalSizes: Record<string, number> = {};
  if (model.logical) {
    const suffix = slot ? `_${slot}` : "";
    logicalSizes[`system${suffix}`] = Math.min(model.room.system, 1_400_000_000);
    if (model.room.product) logicalSizes[`product${suffix}`] = model.room.product;
  }
  const rooms: Record<string, number> = {
    boot: model.room.boot,
    vendor_boot: model.room.boot,
    dtbo: 16_777_216,
    vbmeta: 65_536,
    radio: 134_217_728,
    system: model.room.system,
  };
  if (model.room.recovery) rooms.recovery = model.room.recovery;
  if (model.room.product) rooms.product = model.room.product;
  return PhoneState.parse({
    tag: request.tag,
    serial: request.serial ?? `SIM-${request.tag}`,
    codename: model.codename,
    modelNumber: known<string>("model.number") ?? model.modelNumbers[0],
    board: model.board,
    cpu: model.cpu,
    slots: model.slots,
    userspaceFastboot: known<boolean>("fastboot.userspace") ?? model.userspaceFastboot,
    logical: model.logical,
    treble: model.treble,
    maxDownload: model.maxDownload,
    rooms,
    unlock: { possible: model.unlock.possible, waitingDays: model.unlock.waitingDays, command: model.unlock.command },
    firmwareOrder: model.firmware.order,
    dangerous: model.firmware.dangerous,
    restoresRecovery: model.stockRestoresRecovery,
    locked: custom ? false : (known<boolean>("bootloader.locked") ?? true),
    permission: custom ? "granted" : "none",
    battery: known<number>("battery.percent") ?? 80,
    slot,
    firmware: known<string>("firmware.version") ?? model.firmware.order[0],
    partitions,
    logicalSizes,
    data: { kind: custom ? "custom" : "stock", api: system.api, donor: true },
    offers: own.filter((i) => i.kind === "official-update").map(content),
  });
}
