import type { DayOrder } from "~/core/lists/cellValue";
import { COLUMN_KEYS, type Column } from "~/core/lists/columns";
import type { Choice } from "~/core/lists/deviceList";
import { type Reading, SEPARATORS, type Separator } from "~/core/lists/reading";
import type { ImportRow, Mended } from "~/store/imports";

/** What the draft page's form says: columns, mended cells, choices. What is not in the form stays as it was. */
export function readMended(form: FormData, list: ImportRow): Mended {
  const cells: { line: number; cell: number; text: string }[] = [];
  const splits: number[] = [];
  const choices: { line: number; choice: Choice }[] = [];
  const mapping: (Column | null)[] = [...list.mapping];
  const days: Record<number, DayOrder> = { ...list.days };
  for (const [name, value] of form) {
    if (typeof value !== "string") continue;
    const [what, first, second] = name.split(".");
    if (what === "cell" && Number(second) < 400) cells.push({ line: Number(first), cell: Number(second), text: value });
    else if (what === "choice" && value === "split") splits.push(Number(first));
    else if (what === "choice")
      choices.push({ line: Number(first), choice: value === "leave" || value === "returning" ? value : null });
    else if (what === "column" && Number(first) < mapping.length)
      mapping[Number(first)] = COLUMN_KEYS.find((c) => c === value) ?? null;
    else if (what === "days" && Number(first) < mapping.length) {
      if (value === "day" || value === "month") days[Number(first)] = value;
      else delete days[Number(first)];
    }
  }
  const prefix = String(form.get("prefix") ?? list.prefix)
    .replace(/[^A-Za-z0-9-]/g, "")
    .slice(0, 12);
  const need = form.has("need") ? String(form.get("need")) || null : list.need;
  return { mapping, days, prefix: prefix || "D-", need, version: Number(form.get("version")), cells, choices, splits };
}

/**
 * How a person says that the file is to be read; or what is wrong, in words. A heading that was found on another sheet, or
 * with another separator, says nothing of this one: it is looked for anew, unless its line was changed too.
 */
export function readReading(form: FormData): Reading | string {
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const separator = (Object.keys(SEPARATORS) as Separator[]).find((s) => s === form.get("separator"));
  if (!/^\d{1,6}$/.test(text("heading")))
    return "Write the number of the line with the heading, or 0 where there is none";
  const isAs = (name: string) => !form.has(`was.${name}`) || text(name) === text(`was.${name}`);
  const isSaid = !isAs("heading") || (isAs("sheet") && isAs("separator"));
  return {
    ...(isSaid && { heading: Number(text("heading")) }),
    ...(separator && { separator }),
    ...(form.has("sheet") && { sheet: text("sheet") }),
    carry: form.getAll("carry").map(String),
  };
}

/** Two columns that are said to hold the same thing, in words; null when each is said once. */
export function doubled(mapping: readonly (Column | null)[], header: readonly string[]): string | null {
  for (const [i, column] of mapping.entries()) {
    const other = column === null ? -1 : mapping.indexOf(column, i + 1);
    if (other > i) return `“${header[i]}” and “${header[other]}” can't both be the same column. Choose one of them`;
  }
  return null;
}
