import type { ImageKind } from "~/core/catalogue/image";
import type { IndexedImage } from "./catalogueIndex";
import { OPERATION_BY_KIND, type OperationDefinition, type OperationKind } from "./operations";
import type { ReasonCode } from "./outcome";
import type { Label, SearchWorld } from "./search";

/** Why an image is not reached: the first reason, in words a volunteer understands. */
export interface Stop {
  readonly image: string;
  readonly code: ReasonCode;
  readonly says: string;
}

const INSTALLER: Partial<Record<string, OperationKind>> = {
  "official-update": "take-update",
  stock: "flash-stock",
  rom: "install-rom",
  gsi: "install-gsi",
};

/** Reasons that are only about the moment: behind them stands the reason why that moment never comes. */
const PROVIDERS: Partial<Record<ReasonCode, readonly OperationKind[]>> = {
  "bootloader.locked": ["unlock"],
  "unlock.permission": ["wait-unlock", "allow-unlock"],
  "recovery.missing": ["flash-recovery"],
  "recovery.other-release": ["flash-recovery"],
  "recovery.too-old": ["flash-recovery"],
  "firmware.too-old": ["install-firmware-pack", "flash-stock", "take-update"],
  "firmware.dangerous": ["take-update", "install-firmware-pack", "flash-stock"],
  "downgrade.via-stock": ["flash-stock"],
  "gsi.needs-stock-base": ["flash-stock"],
  "verification.missing": ["flash-verification"],
};

/** True for kinds of image that a device can end on. */
export const isSystemKind = (kind: ImageKind) => kind in INSTALLER;
export const isSystem = (entry: IndexedImage) => isSystemKind(entry.image.kind);

/**
 * The first reason that stops an image, from the states the search did reach: the state that came nearest (fewest
 * failing preconditions) is taken, and behind a lock, a recovery or a base that is missing the reason why it can't be had.
 *
 * @param labels what the search returned
 */
export function stopOf(entry: IndexedImage, labels: readonly Label[], world: SearchWorld): Stop {
  const definition = OPERATION_BY_KIND[INSTALLER[entry.image.kind] as OperationKind];
  const blame = blameOf(definition, entry, labels, world, 0);
  return {
    image: entry.image.id,
    ...(blame ?? {
      code: "order.wrong-moment",
      says: "It can be written, but the device would not be finished afterwards",
    }),
  };
}

interface Blame {
  readonly code: ReasonCode;
  readonly says: string;
}

function blameOf(
  definition: OperationDefinition,
  entry: IndexedImage | null,
  labels: readonly Label[],
  world: SearchWorld,
  depth: number,
): Blame | null {
  const { device, index, policy } = world;
  let best: Blame | null = null;
  let fewest = Number.POSITIVE_INFINITY;
  const states = labels.length > 40 ? labels.slice(0, 40) : labels;
  for (const { state } of states) {
    let count = 0;
    let first: Blame | null = null;
    for (const rule of definition.needs) {
      const outcome = rule({ device, state, entry, index, policy });
      if (outcome.is !== "fails") continue;
      count++;
      first ??= { code: outcome.code, says: outcome.says };
      if (FINAL.has(outcome.code)) return first;
      if (count >= fewest) break;
    }
    if (count < fewest) {
      fewest = count;
      best = first;
    }
    if (fewest === 0) return null;
  }
  if (!best || depth >= 3) return best;
  const kinds = PROVIDERS[best.code];
  if (!kinds) return best;
  const deeper: Blame[] = [];
  for (const kind of kinds) {
    const provider = OPERATION_BY_KIND[kind];
    const entries =
      provider.image === null ? [null] : index.imagesFor(device.model).filter((e) => e.image.kind === provider.image);
    for (const candidate of entries) {
      const behind = blameOf(provider, candidate, labels, world, depth + 1);
      if (behind === null) return best;
      if (!FRUITLESS.has(behind.code)) deeper.push(behind);
    }
  }
  const root = deeper[0];
  return root ? { code: root.code, says: best.says === root.says ? best.says : `${best.says}. ${root.says}` } : best;
}

/** Nothing done to a device makes it another model, or a withdrawn build good. */
const FINAL: ReadonlySet<ReasonCode> = new Set(["image.other-model", "image.cpu", "image.withdrawn", "image.rooted"]);

/** Reasons that say nothing about why a companion can't be had. */
const FRUITLESS: ReadonlySet<ReasonCode> = new Set([
  "order.wrong-moment",
  "image.other-model",
  "image.cpu",
  "image.not-needed",
  "bootloader.unlocked",
]);
