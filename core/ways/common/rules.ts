import { compareFirmware, firmwareInRange } from "~/core/android/firmwareVersion";
import type { Image } from "~/core/catalogue/image";
import { FLASH_WORDS, type FlashInterface, type Model } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import { currentValue } from "~/core/device/lookUp";
import { fails, HOLDS, type Outcome, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";
import type { PlanState } from "~/core/upgrade/state";

// Rules that guard operations of several ways.

const MiB = 1_048_576;

/** Bytes as whole mebibytes, rounded up, for sentences. */
export const mib = (bytes: number) => `${Math.ceil(bytes / MiB).toLocaleString("en")} MiB`;

/** The image is made for this model and its processor. */
export const suitsModel = imageRule([], ({ entry: { image }, device: { model } }) => {
  if (image.models.length > 0 && !image.models.includes(model.id))
    return fails("image.other-model", `Made for ${image.models.join(", ")}, not for this board`);
  if (image.cpu !== null && model.open.includes("cpu")) return unknown("model.open", "cpu.arch");
  return image.cpu === null || image.cpu === model.cpu
    ? HOLDS
    : fails("image.cpu", `Made for ${image.cpu} processors; this device has ${model.cpu}`);
});

/**
 * "Withdrawn: why. Use the successor instead"; null for an image that stands.
 *
 * @example withdrawnText({ withdrawn: null, … }, () => undefined) // null
 */
export function withdrawnText(image: Image, titleOf: (id: string) => string | undefined): string | null {
  if (!image.withdrawn) return null;
  const next = image.withdrawn.successor ? titleOf(image.withdrawn.successor) : null;
  return `Withdrawn: ${image.withdrawn.says}${next ? `. Use ${next} instead` : ""}`;
}

export const notWithdrawn = imageRule([], ({ entry, index }) => {
  const says = withdrawnText(entry.image, (id) => index.images.get(id)?.image.title);
  return says === null ? HOLDS : fails("image.withdrawn", says);
});

export const rootAllowed = imageRule([], ({ entry, policy }) =>
  entry.image.rooted && policy.root === "never"
    ? fails("image.rooted", "It is rooted: banking apps refuse it, and the house installs none (policy)")
    : HOLDS,
);

/** Versions that can't be compared: the model's order does not hold one of them. The question is about the model. */
const notComparable: Outcome = unknown("firmware.not-in-order", "firmware.version");

/**
 * Where a firmware version stands to the dangerous ranges of a model.
 *
 * @example firmwareAnswer({ firmware: { dangerous: [], order: [] }, … }, null) // HOLDS
 */
export function firmwareAnswer({ firmware: { dangerous, order } }: Model, firmware: string | null): Outcome {
  if (dangerous.length === 0) return HOLDS;
  if (firmware === null) return unknown("firmware.unknown", "firmware.version");
  for (const range of dangerous) {
    const inside = firmwareInRange(order, firmware, range);
    if (inside === null) return notComparable;
    if (inside)
      return fails(
        "firmware.dangerous",
        `Firmware ${firmware} kills boards: ${range.says}. Go to ${range.safe} first; switch automatic updates off`,
      );
  }
  return HOLDS;
}

/** The installed firmware is not one that kills boards under this operation. */
export const firmwareSafe = rule(["firmware"], ({ state, device }) => firmwareAnswer(device.model, state.firmware));

/** The firmware an image brings does not kill boards. */
export const bringsNoDanger = imageRule([], ({ entry, device }) => {
  const brings = entry.image.firmware;
  if (brings === null) return HOLDS;
  const { dangerous, order } = device.model.firmware;
  for (const range of dangerous)
    if (firmwareInRange(order, brings, range) !== false)
      return fails("firmware.dangerous", `It brings firmware ${brings}, which kills boards: ${range.says}`);
  return HOLDS;
});

/** The firmware an image brings is not older than what is installed; off dangerous firmware only the record's safe base leads. */
export const noRollback = imageRule(["firmware"], ({ entry, state, device }) => {
  const brings = entry.image.firmware;
  if (brings === null) return HOLDS;
  const { dangerous, order } = device.model.firmware;
  if (state.firmware === null) return unknown("firmware.unknown", "firmware.version");
  const against = compareFirmware(order, brings, state.firmware);
  if (against === null) return notComparable;
  if (against < 0)
    return fails(
      "firmware.rollback",
      `It brings firmware ${brings}, older than the installed ${state.firmware}: a device refuses or dies on the way back`,
    );
  const kills = dangerous.find((range) => firmwareInRange(order, state.firmware as string, range) === true);
  if (!kills) return HOLDS;
  const toSafe = compareFirmware(order, brings, kills.safe);
  if (toSafe === null) return notComparable;
  return toSafe < 0
    ? fails(
        "firmware.dangerous",
        `Firmware ${state.firmware} kills boards: ${kills.says}. The safe base is ${kills.safe} or later, this brings ${brings}`,
      )
    : HOLDS;
});

/** The installed firmware lies in the range the image asks for. */
export const firmwareFits = imageRule(["firmware"], ({ entry, state, device }) => {
  const { firmwareFrom, firmwareTo } = entry.image.needs;
  if (!firmwareFrom && !firmwareTo) return HOLDS;
  if (state.firmware === null) return unknown("firmware.unknown", "firmware.version");
  const { order } = device.model.firmware;
  if (firmwareFrom) {
    const low = compareFirmware(order, state.firmware, firmwareFrom);
    if (low === null) return notComparable;
    if (low < 0)
      return fails("firmware.too-old", `Needs firmware ${firmwareFrom} or later; this has ${state.firmware}`);
  }
  if (firmwareTo) {
    const high = compareFirmware(order, state.firmware, firmwareTo);
    if (high === null) return notComparable;
    if (high > 0)
      return fails("firmware.too-new", `Needs firmware ${firmwareTo} or earlier; this has ${state.firmware}`);
  }
  return HOLDS;
});

export const bootloaderUnlocked = rule(["locked", "assumed"], ({ state }) =>
  state.locked ? fails("bootloader.locked", "The bootloader is locked") : HOLDS,
);

/** What is open of these parts, as a question; null where all are known. A locked bootloader answers all of them at once. */
export function openParts({ assumed }: Pick<PlanState, "assumed">, parts: readonly FactKey[]): Outcome | null {
  const open = parts.find((key) => assumed.includes(key));
  if (!open) return null;
  return assumed.includes("bootloader.locked")
    ? unknown("bootloader.unknown", "bootloader.locked")
    : unknown("fact.open", open);
}

/** A step belongs to the interfaces its model is flashed through. */
export const through = (...interfaces: readonly FlashInterface[]) => {
  const wanted = interfaces.map((i) => FLASH_WORDS[i]).join(" or ");
  return rule([], ({ device: { model } }) =>
    interfaces.includes(model.flash)
      ? HOLDS
      : fails(
          "flash.other-interface",
          `This goes through ${wanted}; this model is flashed through ${FLASH_WORDS[model.flash]}`,
        ),
  );
};

export const throughFastboot = through("fastboot");

export const systemStarts = rule(["started"], ({ state }) =>
  state.started === "running" ? HOLDS : fails("order.wrong-moment", "The system has to run for this step"),
);

export const storageWants = (...wanted: readonly PlanState["storage"][]) =>
  rule(["storage"], ({ state }) =>
    wanted.includes(state.storage)
      ? HOLDS
      : fails("order.wrong-moment", `Storage is ${state.storage}, not ${wanted.join(" or ")}`),
  );

/** A device that does not start can't be signed out any more: wiping it with an account on it would lock it for good. */
export const signedOut = rule(["started"], ({ state, device }) =>
  state.started === "broken" && currentValue(device.facts, "accounts.on") === true
    ? fails(
        "accounts.on-it",
        "An account is on it, and it does not start: wiping it now would have it ask for that account",
      )
    : HOLDS,
);

export const notRunningAlready = imageRule(["image", "started"], ({ entry, state }) =>
  state.image === entry.image.id && state.started === "running"
    ? fails("image.not-needed", "This is what runs already")
    : HOLDS,
);
