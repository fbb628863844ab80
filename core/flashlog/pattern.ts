import type { OperationKind } from "~/core/ways/registry";

/** What a line means. "harmless": it looks bad and is not, here; "look": go on only after a look; "stop": do nothing more before it is settled. */
export type Tell = "normal" | "harmless" | "look" | "stop";

/** Where a line was said: the same words mean one thing in one step and another in the next. */
export interface LogContext {
  /** Kind of the operation that was going on; null where none was, or nobody says. */
  readonly operation: string | null;
  /** Code of the step; null where nobody says. */
  readonly step: string | null;
  /** The sheet says that the command of this step may fail, or what to do where it does. */
  readonly mayFail: boolean;
}

export const NO_CONTEXT: LogContext = { operation: null, step: null, mayFail: false };

export interface Meaning {
  readonly tell: Tell;
  readonly why: string;
  /** What to do now; null where nothing has to be done. */
  readonly next: string | null;
}

/**
 * A line that is known. The first pattern that matches tells; a pattern that means something else elsewhere says so in
 * `unless`, which is asked in order before it.
 */
export interface Pattern {
  /** Stable name. */
  readonly id: string;
  /** Matches the line without colours, case aside. Linear: no quantifier inside a quantifier. */
  readonly line: RegExp;
  readonly means: Meaning;
  /** What it means in some steps instead. */
  readonly unless?: readonly { readonly where: (context: LogContext) => boolean; readonly means: Meaning }[];
  /** It says that the whole thing went well. */
  readonly success?: true;
  /** Where the wording comes from. */
  readonly source: string;
  readonly examples: readonly string[];
  /** Lines that look like it and are something else. */
  readonly not?: readonly string[];
}

/**
 * What a line means that is as it should be.
 *
 * @example normal("It is done").tell // "normal"
 */
export const normal = (why: string): Meaning => ({ tell: "normal", why, next: null });
/**
 * What a line means that looks bad and is not, here.
 *
 * @example harmless("Said each time").next // null
 */
export const harmless = (why: string): Meaning => ({ tell: "harmless", why, next: null });
/**
 * What a line means that asks for a look, with what to look at.
 *
 * @example look("May be full", "Look at the room").tell // "look"
 */
export const look = (why: string, next: string): Meaning => ({ tell: "look", why, next });
/**
 * What a line means that ends the step, with what to do.
 *
 * @example stop("Wrong device", "Compare the label").next // "Compare the label"
 */
export const stop = (why: string, next: string): Meaning => ({ tell: "stop", why, next });

export const inOperation =
  (...kinds: readonly OperationKind[]) =>
  ({ operation }: LogContext) =>
    kinds.some((kind) => kind === operation);

export const AOSP_FASTBOOT = "output of AOSP fastboot, captured in the outside tests";
export const AOSP_ADB = "output of AOSP adb, captured in the outside tests";
export const FLASHER_TEXTS = "output of the stand-in flasher, captured in the outside tests";
export const RECOVERY_TEXTS = "texts of recoveries, from memory; what they mean is common practice, no source";
