import type { FactKey } from "~/core/device/fact";
import type { ReasonCode } from "~/core/ways/reasons";

export type { ReasonCode };

export interface Fails {
  readonly is: "fails";
  readonly code: ReasonCode;
  readonly says: string;
}

/** The three-valued result of a rule. `unknown` never counts as holding: it names the fact to find out. */
export type Outcome =
  | { readonly is: "holds" }
  | Fails
  | { readonly is: "unknown"; readonly code: ReasonCode; readonly fact: FactKey };

export const HOLDS: Outcome = { is: "holds" };

/**
 * A rule does not hold, with its reason.
 *
 * @example fails("bootloader.locked", "The bootloader is locked").is // "fails"
 */
export const fails = (code: ReasonCode, says: string): Fails => ({ is: "fails", code, says });

/**
 * Nobody knows whether a rule holds: the fact that would tell.
 *
 * @example unknown("firmware.unknown", "firmware.version").is // "unknown"
 */
export const unknown = (code: ReasonCode, fact: FactKey): Outcome => ({ is: "unknown", code, fact });
