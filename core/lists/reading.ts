import type { Block } from "./blocks";

/** What may stand between the cells of a text file. */
export const SEPARATORS = { ",": "comma", ";": "semicolon", "\t": "tab", "|": "pipe" } as const;
export type Separator = keyof typeof SEPARATORS;

/** What a person said of how a file is to be read; what they did not say is found. */
export interface Reading {
  readonly separator?: Separator;
  /** Line of the heading; 0: there is none. */
  readonly heading?: number;
  /** Name of the sheet. */
  readonly sheet?: string;
  /** Headings of the columns whose values are carried down into empty cells below. */
  readonly carry?: readonly string[];
}

/** What was taken for what when a file was read. */
export interface Found {
  /** Line of the heading; null: there is none. */
  readonly heading: number | null;
  readonly separator?: Separator;
  readonly sheet?: string;
  readonly sheets?: readonly string[];
  /** Columns that may stand once for a block of lines. */
  readonly blocks?: readonly Block[];
}
