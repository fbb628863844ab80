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

export const fails = (code: ReasonCode, says: string): Fails => ({ is: "fails", code, says });

export const unknown = (code: ReasonCode, fact: FactKey): Outcome => ({ is: "unknown", code, fact });
