import { IMAGE_SECTIONS } from "./imageSections";
import { MODEL_SECTIONS } from "./modelSections";
import type { PackKind } from "./packs";
import type { SectionField } from "./sections";

const FIELDS: Record<PackKind, readonly SectionField[]> = {
  model: MODEL_SECTIONS.flatMap((s) => s.fields),
  image: IMAGE_SECTIONS.flatMap((s) => s.fields),
  // Needs have a form of their own.
  need: [
    { at: "name", label: "Name", kind: "text" },
    { at: "forWhom", label: "For whom", kind: "text" },
    {
      at: "apps",
      label: "Apps",
      kind: "rows",
      columns: [
        { at: "minApi", label: "lowest API level", kind: "number" },
        { at: "only64", label: "64-bit only", kind: "yes-no" },
      ],
    },
    { at: "hardware", label: "Hardware it needs", kind: "lines" },
    { at: "forms", label: "Phone or tablet", kind: "lines" },
    { at: "note", label: "Note", kind: "text" },
    {
      at: "history",
      label: "Floor over time",
      kind: "rows",
      columns: [{ at: "api", label: "API level", kind: "number" }],
    },
  ],
  incompatible: [{ at: "says", label: "What goes wrong", kind: "text" }],
};

/**
 * A place in an entry in the words of its form: `files[boot.img].sha256` is "Files, boot.img, SHA-256".
 *
 * @example fieldLabel("model", "codename") // "Code name"
 */
export function fieldLabel(kind: PackKind, at: string): string {
  const [, place, item, column] = /^([^[]+)(?:\[(.*)\])?(?:\.([^.[\]]+))?$/.exec(at) ?? [];
  const whole = FIELDS[kind].find((f) => f.at === at);
  if (whole) return whole.label;
  const field = FIELDS[kind].find((f) => f.at === place);
  if (!field || item === undefined) return at.replaceAll(/[[\].]+/g, " ").trim();
  const inRow = field.kind === "rows" ? field.columns.find((c) => c.at === column)?.label : undefined;
  return [field.label, item, inRow ?? column].filter(Boolean).join(", ");
}
