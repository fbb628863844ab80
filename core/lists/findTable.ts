import { type Column, columnOfHeading, nameColumns } from "./columns";

export interface Line {
  readonly line: number;
  readonly cells: readonly string[];
}

/** A table found among the lines of a file. */
export interface FoundTable {
  /** Line of the heading; null where there is none. */
  readonly heading: number | null;
  readonly header: readonly string[];
  readonly body: readonly Line[];
  readonly remarks: readonly string[];
}

/** Lines from the top among which the heading is looked for. */
const LOOK = 40;

/**
 * Finds the heading and the rows under it: titles, blank lines and contact lines above, a second line of headings, a ruler
 * under it, lines of totals below.
 *
 * @param wanted the line that a person said is the heading, 0 where they said that there is none
 */
export function findTable(lines: readonly Line[], wanted?: number): FoundTable {
  const filled = lines.filter((l) => l.cells.some((c) => c.trim() !== ""));
  const at =
    wanted === undefined ? bestHeading(filled) : wanted === 0 ? -1 : filled.findIndex((l) => l.line === wanted);
  const remarks: string[] = [];
  if (at < 0) {
    const width = Math.max(0, ...filled.slice(0, 200).map((l) => l.cells.length));
    remarks.push("The list has no heading: say what each column holds");
    return {
      heading: null,
      header: nameColumns([], Math.max(1, width)),
      body: withoutTotals(filled, remarks),
      remarks,
    };
  }
  const head = filled[at];
  if (at > 0)
    remarks.push(
      `${at === 1 ? "One line stands" : `${at} lines stand`} above the heading on line ${head.line} and ${at === 1 ? "was" : "were"} left out: “${shown(filled[0])}”`,
    );
  let rest = filled.slice(at + 1);
  let header: readonly string[] = head.cells;
  while (rest[0] && isRuler(rest[0])) rest = rest.slice(1);
  if (rest[0] && isSecondHeading(header, rest[0])) {
    const second = rest[0];
    header = Array.from({ length: Math.max(header.length, second.cells.length) }, (_, i) => {
      const upper = (head.cells[i] ?? "").trim();
      const lower = (second.cells[i] ?? "").trim();
      // The lower one names the column where it is a heading by itself; else both belong together.
      return lower && (upper === "" || columnOfHeading(lower)) ? lower : [upper, lower].filter(Boolean).join(" ");
    });
    remarks.push(`Lines ${head.line} and ${second.line} are one heading`);
    rest = rest.slice(1);
    while (rest[0] && isRuler(rest[0])) rest = rest.slice(1);
  }
  const body = withoutTotals(
    rest.filter((l) => !isRuler(l) && !repeats(l, head)),
    remarks,
  );
  return { heading: head.line, header: nameColumns(header.map((name) => name.replace(/\s+/g, " "))), body, remarks };
}

/** The line with most headings that are known: the first of them; -1 where the first line holds no names but values. */
function bestHeading(filled: readonly Line[]): number {
  let best = 0;
  let most = 0;
  filled.slice(0, LOOK).forEach((l, i) => {
    const n = new Set(l.cells.map(columnOfHeading).filter((c): c is Column => c !== null)).size;
    if (n > most) {
      most = n;
      best = i;
    }
  });
  // One known word may stand in any sentence; two make a heading, or one where the line is a table's first.
  if (most >= 2 || (most === 1 && (best === 0 || filled[best].cells.length > 1))) return best;
  const first = filled[0]?.cells ?? [];
  return first.some(isValue) ? -1 : 0;
}

/** What no heading looks like: long numbers, dates, shares. */
const isValue = (cell: string) =>
  /^'?\d{10,}/.test(cell.trim()) ||
  /^\d{1,4}[./-]\d{1,2}[./-]\d{1,4}$/.test(cell.trim()) ||
  /^\d+([.,]\d+)?\s*%?$/.test(cell.trim());

const isRuler = (l: Line) => {
  const text = l.cells.join("").trim();
  return text !== "" && /^[-=_+|:~*\s]+$/.test(text) && /[-=_~*]{2}/.test(text);
};

/** A line of words under the heading, most of which are headings too. */
function isSecondHeading(header: readonly string[], next: Line): boolean {
  const words = next.cells.filter((c) => c.trim() !== "");
  if (words.length === 0 || words.some((c) => /\d{3,}/.test(c) || isValue(c))) return false;
  const known = next.cells.filter((c) => columnOfHeading(c) !== null).length;
  const gaps = next.cells.filter((c, i) => c.trim() !== "" && (header[i] ?? "").trim() === "").length;
  return known >= 2 || (known + gaps >= 1 && known + gaps >= words.length * 0.6);
}

/** A heading that a spreadsheet prints on every page. */
const repeats = (l: Line, head: Line) =>
  l.cells.length === head.cells.length &&
  l.cells.every((c, i) => c.trim().toLowerCase() === head.cells[i].trim().toLowerCase());

const TOTAL =
  /^(grand\s+)?(total|sum|summe|gesamt|gesamtsumme|insgesamt|anzahl|somme|totale|totaux|suma|subtotal|zwischensumme)\b[\s:.=]*[\d.,\s]*(devices|geräte|appareils|dispositivos|stück|pcs)?\.?$/i;

function withoutTotals(lines: readonly Line[], remarks: string[]): readonly Line[] {
  const isTotal = (l: Line) => {
    const words = l.cells.filter((c) => c.trim() !== "");
    return words.length <= 3 && TOTAL.test((words[0] ?? "").trim());
  };
  const totals = lines.filter(isTotal);
  if (totals.length)
    remarks.push(
      `Line ${totals
        .map((l) => l.line)
        .slice(0, 5)
        .join(", ")} is a total and no device: it was left out`,
    );
  return totals.length ? lines.filter((l) => !isTotal(l)) : lines;
}

const shown = (l: Line) =>
  l.cells
    .filter((c) => c.trim() !== "")
    .join(" ")
    .slice(0, 60);
