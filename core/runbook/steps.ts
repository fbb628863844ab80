import type { Image } from "~/core/catalogue/image";
import type { PlanState } from "~/core/upgrade/state";
import type { Bench } from "./bench";
import type { IdentityCopy } from "./identityCopy";

/** What the steps of an operation are written with. */
export interface Steps {
  readonly bench: Bench;
  /** The state before the operation. */
  readonly state: PlanState;
  /** The recovery that is on the device before the operation, where the catalogue has it. */
  readonly recovery: Image | null;
  /** The image that runs before the operation, where the catalogue has it. */
  readonly running: Image | null;
  /** The current slot as far as the record still holds: an update over the air changes it. */
  readonly slot: { current: string | null };
  readonly build: { current: string | null };
  /** What runs before the operation, where it is known. */
  readonly release: string | null;
  /** What was kept of this device: identity partitions, a board's dump. */
  readonly copies: readonly IdentityCopy[];
}
