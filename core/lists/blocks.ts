import { type Column, columnOfHeading, isOwnNumber } from "./columns";
import type { Line } from "./findTable";

/** What may stand once for a block of devices; numbers of their own never do. */
const SHARED: ReadonlySet<Column> = new Set<Column>(["donor", "need", "model.maker", "model.name", "model.number"]);

/** What says which model a device is: a line with none of it, below one that has it, is a device of unknown model or of a block. */
const MODEL: ReadonlySet<Column> = new Set<Column>(["model.name", "model.number"]);

/** Signs and words for "the same as above". */
const DITTO = /^(["”“″〃]|''|,,|-"-|dto\.?|dito|ditto|idem|ídem|s\. ?o\.)$/i;

/** A column whose value stands in the first line of a block only, as it seems. */
export interface Block {
  readonly name: string;
  /** Lines in which it is empty below a value. */
  readonly empty: number;
  readonly carried: boolean;
}

/**
 * Columns that are filled in the first line of a block and empty below it: in at least as many lines as they are filled, and a
 * model in any line that says nothing else of it. Whether an empty cell means "the same" or "nobody knows" is not in the list: it
 * is offered, and carried down when a person says so. Ditto marks say it themselves.
 *
 * @param carry names of the columns that a person said are to be carried down
 */
export function carryDown(header: readonly string[], body: readonly Line[], carry: readonly string[]) {
  const columns = header.map(columnOfHeading);
  const models = [...header.keys()].filter((i) => isAmong(columns[i], MODEL));
  const blocks = header.flatMap((name, i): Block[] => {
    if (!isAmong(columns[i], SHARED)) return [];
    const empty = emptyBelow(body, i) || (models.includes(i) ? withoutModel(body, i, models) : 0);
    return empty > 0 ? [{ name, empty, carried: carry.includes(name) }] : [];
  });
  const carried = new Set(blocks.filter((b) => b.carried).map((b) => header.indexOf(b.name)));
  const above: string[] = [];
  let dittos = 0;
  const lines = body.map(({ line, cells }): Line => {
    const filled = Array.from({ length: Math.max(cells.length, carried.size ? header.length : 0) }, (_, i) => {
      const cell = cells[i] ?? "";
      const isDitto = DITTO.test(cell.trim()) && above[i] !== undefined;
      if (isDitto) dittos++;
      if (isDitto && isOwnNumber(columns[i])) return "";
      return isDitto || (carried.has(i) && cell.trim() === "") ? (above[i] ?? cell) : cell;
    });
    for (const [i, cell] of filled.entries()) if (cell.trim() !== "") above[i] = cell;
    return { line, cells: filled };
  });
  const remarks = blocks.map((b) =>
    b.carried
      ? `“${b.name}” was carried down into the empty cells below its values: ${b.empty}`
      : `“${b.name}” is empty below a value in lines of this list: ${b.empty}. If it stands once for a whole block, have it carried down (How the file was read)`,
  );
  if (dittos)
    remarks.push(
      `${dittos === 1 ? "One cell says" : `${dittos} cells say`} “the same as above”: what stands there was taken, and nothing where each device has a number of its own`,
    );
  return { lines, blocks, remarks };
}

const isAmong = (column: Column | null, set: ReadonlySet<Column>): boolean => column !== null && set.has(column);

const isEmpty = ({ cells }: Line, column: number): boolean => (cells[column] ?? "").trim() === "";

/** In how many lines a column is empty below a value; 0 where it is filled more often, or begins empty. */
function emptyBelow(body: readonly Line[], column: number): number {
  if (body.length < 2 || isEmpty(body[0], column)) return 0;
  const empty = body.filter((l) => isEmpty(l, column)).length;
  return empty * 2 >= body.length ? empty : 0;
}

/** In how many lines below the column's first value no column says the model, though something else stands in the line. */
function withoutModel(body: readonly Line[], column: number, models: readonly number[]): number {
  const first = body.findIndex((l) => !isEmpty(l, column));
  if (first < 0) return 0;
  return body.slice(first).filter((l) => models.every((i) => isEmpty(l, i)) && l.cells.some((c) => c.trim() !== ""))
    .length;
}
