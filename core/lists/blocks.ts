import { type Column, columnOfHeading, isOwnNumber } from "./columns";
import type { Line } from "./findTable";

/** What may stand once for a block of devices; numbers of their own never do. */
const SHARED: ReadonlySet<Column> = new Set<Column>(["donor", "need", "model.maker", "model.name", "model.number"]);

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
 * Columns that are filled in the first line of a block and empty below it: in at least as many lines as they are filled. Whether
 * an empty cell means "the same" or "nobody knows" is not in the list: it is offered, and carried down when a person says so.
 * Ditto marks say it themselves.
 *
 * @param carry names of the columns that a person said are to be carried down
 */
export function carryDown(header: readonly string[], body: readonly Line[], carry: readonly string[]) {
  const columns = header.map(columnOfHeading);
  const blocks = header.flatMap((name, i): Block[] => {
    const empty = columns[i] !== null && SHARED.has(columns[i]) ? emptyBelow(body, i) : 0;
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

/** In how many lines a column is empty below a value; 0 where it is filled more often, or begins empty. */
function emptyBelow(body: readonly Line[], column: number): number {
  const isEmpty = (l: Line) => (l.cells[column] ?? "").trim() === "";
  if (body.length < 2 || isEmpty(body[0])) return 0;
  const empty = body.filter(isEmpty).length;
  return empty * 2 >= body.length ? empty : 0;
}
