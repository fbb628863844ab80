import { HARDWARE_WORDS, Hardware } from "./common";

/** One thing that is edited: where it stands in the entry, and what its field looks like. */
export type SectionField =
  | {
      readonly at: string;
      readonly label: string;
      readonly hint?: string;
      readonly kind: "text" | "area" | "number" | "date" | "lines" | "yes-no";
      /** An empty field stands for "not known". */
      readonly nullable?: boolean;
      /** An area whose lines stay lines: it is no sentence. */
      readonly asIs?: true;
    }
  | {
      readonly at: string;
      readonly label: string;
      readonly hint?: string;
      readonly kind: "choice" | "checks";
      readonly nullable?: boolean;
      /** Fixed choices, or those of the catalogue. */
      readonly options: readonly { readonly value: string; readonly text: string }[] | "models" | "images";
    }
  | {
      readonly at: string;
      readonly label: string;
      readonly hint?: string;
      readonly kind: "rows";
      readonly nullable?: boolean;
      readonly columns: readonly Exclude<SectionField, { kind: "rows" }>[];
    };

export interface Section {
  readonly id: string;
  readonly title: string;
  readonly fields: readonly SectionField[];
  /** Groups of fields that stand for nothing at all while the one named first is empty. */
  readonly nothingWithout?: readonly { readonly at: string; readonly field: string }[];
  /** Kinds of image that have this part; all of them where it does not say. */
  readonly kinds?: readonly string[];
}

/** A list as choices of a field. */
export const words = (list: readonly string[]) => list.map((value) => ({ value, text: value }));
/** Named values as choices of a field. */
export const choices = (texts: Readonly<Record<string, string>>) =>
  Object.entries(texts).map(([value, text]) => ({ value, text }));
export const HARDWARE = Hardware.options.map((value) => ({ value, text: HARDWARE_WORDS[value] }));
/** Where an entry comes from, and when that was last looked at. */
export const PROVENANCE: Section["fields"] = [
  { at: "source", label: "Where this comes from", kind: "text" },
  { at: "on", label: "Last looked at", kind: "date" },
];
