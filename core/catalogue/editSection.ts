import type { z } from "zod";
import { inWords } from "./inWords";
import type { Section, SectionField } from "./sections";

type Doc = Record<string, unknown>;

/**
 * The value at a place like `unlock.possible`.
 *
 * @example valueAt({ room: { system: 5 } }, "room.system") // 5
 */
export function valueAt(doc: object, at: string): unknown {
  return at.split(".").reduce<unknown>((value, key) => (value as Doc | null | undefined)?.[key], doc);
}

function put(doc: Doc, at: string, value: unknown) {
  const keys = at.split(".");
  let here = doc;
  for (const key of keys.slice(0, -1)) {
    here[key] = { ...((here[key] as Doc | null) ?? {}) };
    here = here[key] as Doc;
  }
  here[keys[keys.length - 1]] = value;
}

type Plain = Exclude<SectionField, { kind: "rows" }>;

/** What a field's text stands for. */
function valueFrom(field: Plain, texts: readonly string[]): unknown {
  const text = (texts[0] ?? "").trim();
  switch (field.kind) {
    case "checks":
      return texts.filter(Boolean);
    case "lines":
      return text
        .split(/[\r\n]+/)
        .map((l) => l.trim())
        .filter(Boolean);
    case "yes-no":
      return text === "" && field.nullable ? null : text === "yes";
    case "number":
      // What is no number stays text: the schema says so at its place.
      return text === "" ? (field.nullable ? null : undefined) : Number.isNaN(Number(text)) ? text : Number(text);
    case "area":
      if (field.asIs) return text === "" && field.nullable ? null : text.replaceAll(/\r\n?/g, "\n");
      // Sheets and scripts print it on one line.
      return text.replaceAll(/\s+/g, " ");
    default:
      return text === "" && field.nullable ? null : text;
  }
}

/** Rows of a repeated field; a row in which nothing stands is left out. */
function rowsOf(field: Extract<SectionField, { kind: "rows" }>, form: FormData): unknown[] {
  const rows: unknown[] = [];
  for (let i = 0; form.has(`${field.at}.${i}.${field.columns[0].at}`) && i < 500; i++) {
    const texts = field.columns.map((c) => form.getAll(`${field.at}.${i}.${c.at}`).map(String));
    // A choice always has a value: what counts is whether anything was written.
    if (field.columns.every((c, n) => c.kind === "choice" || c.kind === "checks" || texts[n].join("").trim() === ""))
      continue;
    rows.push(Object.fromEntries(field.columns.map((c, n) => [c.at, valueFrom(c, texts[n])])));
  }
  return rows;
}

/**
 * An entry with one of its parts as a form says, checked as a whole.
 *
 * @returns the entry, or what is wrong by the field it stands in ("" for what belongs to no field of the part)
 * @example editSection(model, SECTION, form, Model) // { ok: false, wrong: { names: "This must be filled in, …" } }
 */
export function editSection<T extends object>(
  entry: T,
  section: Section,
  form: FormData,
  schema: z.ZodType<T>,
): { readonly ok: true; readonly entry: T } | { readonly ok: false; readonly wrong: Readonly<Record<string, string>> } {
  const doc: Doc = { ...(entry as Doc) };
  for (const field of section.fields)
    put(
      doc,
      field.at,
      field.kind === "rows" ? rowsOf(field, form) : valueFrom(field, form.getAll(field.at).map(String)),
    );
  for (const { at, field } of section.nothingWithout ?? [])
    if ((valueAt(doc, at) as Doc)[field] === null) put(doc, at, null);
  const read = schema.safeParse(doc, { error: inWords });
  if (read.success) return { ok: true, entry: read.data };
  const wrong: Record<string, string> = {};
  for (const issue of read.error.issues) {
    const path = issue.path.map(String).join(".");
    const field = section.fields.find((f) => path === f.at || path.startsWith(`${f.at}.`));
    const row =
      field?.kind === "rows" && issue.path.length > 1
        ? `Row ${Number(issue.path[field.at.split(".").length]) + 1}: `
        : "";
    const says = issue.code === "invalid_type" ? "This must be filled in, or is of the wrong kind" : issue.message;
    wrong[field?.at ?? ""] ??= `${row}${field ? says : `${path}: ${says}`}`;
  }
  return { ok: false, wrong };
}
