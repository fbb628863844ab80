import type { PackKind } from "./packs";
import { IMAGE_SECTIONS, MODEL_SECTIONS, type SectionField } from "./sections";

const FIELDS: Partial<Record<PackKind, readonly SectionField[]>> = {
  model: MODEL_SECTIONS.flatMap((s) => s.fields),
  image: IMAGE_SECTIONS.flatMap((s) => s.fields),
};

/** A place in an entry in the words of its form: `files[boot.img].sha256` is "Files, boot.img, SHA-256". */
export function fieldLabel(kind: PackKind, at: string): string {
  const [, place, item, column] = /^([^[]+)(?:\[(.*)\])?(?:\.([^.[\]]+))?$/.exec(at) ?? [];
  const whole = FIELDS[kind]?.find((f) => f.at === at);
  if (whole) return whole.label;
  const field = FIELDS[kind]?.find((f) => f.at === place);
  if (!field || item === undefined) return at.replaceAll(/[[\].]+/g, " ").trim();
  const inRow = field.kind === "rows" ? field.columns.find((c) => c.at === column)?.label : undefined;
  return [field.label, item, inRow ?? column].filter(Boolean).join(", ");
}
