/** A file of an image, by its place in the folder of files: `<image id>/<file name>`. */
export interface FileRef {
  readonly image: string;
  readonly name: string;
  readonly bytes: number;
  readonly sha256: string | null;
}

/**
 * One word of a command: plain text, a file in the folder of files, or a partition with the slot that the device itself
 * told a moment ago (where the slot can't be known when the sheet is written).
 */
export type Word = string | { readonly file: string } | { readonly perSlot: string };

/** What is done in a step: a command of a public client, something done with fingers, or a look that may stop the run. */
export type Deed =
  | {
      readonly kind: "command";
      readonly tool: "fastboot" | "adb";
      readonly words: readonly Word[];
      readonly mayFail?: boolean;
    }
  | { readonly kind: "hands"; readonly code: string }
  | { readonly kind: "gate"; readonly gate: Gate };

/** A condition that must be met before the run goes on. */
export type Gate =
  | { readonly kind: "digests"; readonly files: readonly FileRef[] }
  | { readonly kind: "getprop"; readonly name: string; readonly expect: string; readonly fact: string }
  | { readonly kind: "getvar"; readonly name: string; readonly expect: string; readonly fact: string }
  /** Reads the current slot for the commands behind it; where one is expected, it must be that one. */
  | { readonly kind: "slot"; readonly expect: string | null }
  | { readonly kind: "adb-state"; readonly state: "device" | "recovery" | "sideload" };

/** One step at the bench. */
export interface Step {
  /** Stable within a runbook; for a step done with fingers it begins with the code the hands port takes. */
  readonly code: string;
  /** Place of the operation it belongs to; -1 for preparation, the number of operations for the end. */
  readonly operation: number;
  readonly title: string;
  readonly says: string;
  readonly deed: Deed;
  readonly normal: string;
  readonly otherwise: string;
  readonly usualSeconds: number;
  readonly latestSeconds: number;
  /** A deliberate yes is asked for: what can't be undone. */
  readonly caution: string | null;
  /** Title of the later step that depends on this one. */
  readonly neededBy: string | null;
}

/** The exact sheet for one device and one way. */
export interface Runbook {
  readonly format: "upshift-lane-runbook";
  readonly version: 1;
  readonly tag: string;
  readonly model: string;
  readonly modelTitle: string;
  /** Last four characters only. */
  readonly serialEnd: string | null;
  readonly way: string;
  readonly from: string;
  readonly to: string;
  readonly promisedRelease: string;
  readonly promisedApi: number;
  readonly files: readonly FileRef[];
  readonly cautions: readonly string[];
  readonly steps: readonly Step[];
}
