/** A sheet of labels: all lengths in millimetres. */
export interface LabelSheet {
  readonly says: string;
  readonly page: { readonly width: number; readonly height: number };
  readonly columns: number;
  readonly rows: number;
  readonly label: { readonly width: number; readonly height: number };
  readonly margin: { readonly top: number; readonly left: number };
  readonly gap: { readonly x: number; readonly y: number };
}

const A4 = { width: 210, height: 297 };
const LETTER = { width: 215.9, height: 279.4 };
const INCH = 25.4;

/** Sizes that stationers sell. Common practice, no source; the printer's own margins differ by a millimetre or two. */
export const LABEL_SHEETS = {
  "a4-24": {
    says: "A4, 24 labels of 70 × 37 mm",
    page: A4,
    columns: 3,
    rows: 8,
    label: { width: 70, height: 37 },
    margin: { top: 0.5, left: 0 },
    gap: { x: 0, y: 0 },
  },
  "a4-14": {
    says: "A4, 14 labels of 99.1 × 38.1 mm",
    page: A4,
    columns: 2,
    rows: 7,
    label: { width: 99.1, height: 38.1 },
    margin: { top: 15.1, left: 4.65 },
    gap: { x: 2.5, y: 0 },
  },
  "letter-30": {
    says: "Letter, 30 labels of 2⅝ × 1 inch",
    page: LETTER,
    columns: 3,
    rows: 10,
    label: { width: 2.625 * INCH, height: INCH },
    margin: { top: 0.5 * INCH, left: 0.1875 * INCH },
    gap: { x: 0.125 * INCH, y: 0 },
  },
  single: {
    says: "Label printer, one label of 62 × 29 mm",
    page: { width: 62, height: 29 },
    columns: 1,
    rows: 1,
    label: { width: 62, height: 29 },
    margin: { top: 0, left: 0 },
    gap: { x: 0, y: 0 },
  },
} as const satisfies Record<string, LabelSheet>;
export type LabelSheetName = keyof typeof LABEL_SHEETS;

export interface PlacedLabel<T> {
  readonly label: T;
  /** Upper left corner, millimetres from the page's. */
  readonly x: number;
  readonly y: number;
}

/**
 * Lays labels out on as many pages as they take, row by row.
 *
 * @param used labels of the first sheet that are gone already
 * @throws RangeError when `used` is not from 0 to one less than a sheet holds
 * @example layLabels(["TH-001"], LABEL_SHEETS["a4-24"], 0)[0].length // 1
 */
export function layLabels<T>(labels: readonly T[], sheet: LabelSheet, used = 0): PlacedLabel<T>[][] {
  const perPage = sheet.columns * sheet.rows;
  if (!Number.isInteger(used) || used < 0 || used >= perPage)
    throw new RangeError(`A sheet has ${perPage} labels: ${used} of them can't be used already`);
  const pages: PlacedLabel<T>[][] = [];
  labels.forEach((label, i) => {
    const place = i + used;
    const on = place % perPage;
    const page = Math.floor(place / perPage);
    pages[page] ??= [];
    pages[page].push({
      label,
      x: sheet.margin.left + (on % sheet.columns) * (sheet.label.width + sheet.gap.x),
      y: sheet.margin.top + Math.floor(on / sheet.columns) * (sheet.label.height + sheet.gap.y),
    });
  });
  return pages;
}
