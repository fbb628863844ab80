import type { FactKey } from "~/core/device/fact";

/** Stable codes of the reasons a way or an image is stopped. Other software may rely on them: add, never rename. */
export type ReasonCode =
  | "clearance.open"
  | "identity.open"
  | "image.other-model"
  | "image.cpu"
  | "image.withdrawn"
  | "image.rooted"
  | "image.not-needed"
  | "update.needs-stock"
  | "update.wrong-base"
  | "firmware.dangerous"
  | "firmware.too-old"
  | "firmware.too-new"
  | "firmware.rollback"
  | "firmware.unknown"
  | "bootloader.locked"
  | "bootloader.unlocked"
  | "bootloader.unknown"
  | "unlock.impossible"
  | "unlock.permission"
  | "unlock.waiting"
  | "recovery.missing"
  | "recovery.too-old"
  | "recovery.other-release"
  | "recovery.no-partition"
  | "downgrade.via-stock"
  | "gsi.needs-vendor-interface"
  | "gsi.needs-stock-base"
  | "gsi.older-than-base"
  | "gsi.room"
  | "gsi.binder"
  | "gsi.slots"
  | "flash.other-interface"
  | "verification.missing"
  | "verification.other-build"
  | "build.unknown"
  | "slot.unknown"
  | "room.unknown"
  | "system.unknown"
  | "release.unknown"
  | "services.after-start"
  | "services.other-release"
  | "services.built-in"
  | "product.not-removable"
  | "relock.modified"
  | "relock.not-offered"
  | "pair.incompatible"
  | "order.wrong-moment";

/** The three-valued result of a rule. `unknown` never counts as holding: it names the fact to find out. */
export type Outcome =
  | { readonly is: "holds" }
  | { readonly is: "fails"; readonly code: ReasonCode; readonly says: string }
  | { readonly is: "unknown"; readonly code: ReasonCode; readonly fact: FactKey };

export const HOLDS: Outcome = { is: "holds" };

export const fails = (code: ReasonCode, says: string): Outcome => ({ is: "fails", code, says });

export const unknown = (code: ReasonCode, fact: FactKey): Outcome => ({ is: "unknown", code, fact });
