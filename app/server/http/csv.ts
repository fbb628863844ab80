import { stringify } from "csv-stringify/sync";

export type CsvCell = string | number | boolean | null;

/** A table as a CSV download (RFC 4180, UTF-8 with its mark); nothing in it is run as a formula. */
export function csvDownload(name: string, header: readonly string[], rows: readonly (readonly CsvCell[])[]): Response {
  const cells = rows.map((row) => row.map((c) => (c === true ? "yes" : c === false ? "no" : (c ?? ""))));
  return new Response(`\uFEFF${stringify([header, ...cells], { escape_formulas: true })}`, {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": `attachment; filename="${name}"`,
    },
  });
}

/** A column of a list: its title, and its cell for an item. */
export type CsvColumn<T> = readonly [title: string, cell: (item: T) => CsvCell];

/** A list as a CSV download, one item a row. */
export const csvList = <T>(name: string, columns: readonly CsvColumn<T>[], items: readonly T[]): Response =>
  csvDownload(
    name,
    columns.map(([title]) => title),
    items.map((item) => columns.map(([, cell]) => cell(item))),
  );
