import { dateText } from "~/app/ui/words";
import { WaitingGroup } from "~/core/allocate/group";
import { IsoDate } from "~/core/catalogue/common";
import type { Typed } from "./GroupFields";

const FIELDS = ["name", "need", "wanted", "least", "by", "weight", "spares", "alike", "contact", "note"] as const;

/** What was typed into the form of a group, as it stands there. */
export const typedOf = (form: FormData): Typed =>
  Object.fromEntries(FIELDS.map((name) => [name, String(form.get(name) ?? "").trim()]));

/** A group as text for its form. */
export const textOf = (group: WaitingGroup): Typed => ({
  ...Object.fromEntries(FIELDS.map((name) => [name, String(group[name])])),
  alike: group.alike ? "yes" : "",
});

/**
 * Reads a group out of its form; what is wrong is said field by field.
 *
 * @param today nobody is promised anything for a day before it
 * @param had   the day that the group had already: it may be over
 */
export function readGroup(
  typed: Typed,
  needs: readonly { readonly id: string }[],
  today: string,
  had: string | null = null,
): { readonly group: WaitingGroup } | { readonly wrong: Typed } {
  const wrong: Record<string, string> = {};
  for (const name of ["wanted", "least", "spares"] as const)
    if (!/^\d{1,3}$/.test(typed[name] ?? "")) wrong[name] = "Write a whole number";
  if (!/^\d{1,2}([.,]\d{1,2})?$/.test(typed.weight ?? "")) wrong.weight = "Write a number from 0.1 to 10";
  if (!needs.some(({ id }) => id === typed.need)) wrong.need = "Choose what they need";
  const { by = "" } = typed;
  if (by !== had && IsoDate.safeParse(by).success && by < today)
    wrong.by = `This day is over: today is ${dateText(today)}`;
  const read = WaitingGroup.safeParse({
    ...typed,
    weight: (typed.weight ?? "").replace(",", "."),
    alike: typed.alike === "yes",
  });
  if (!read.success) for (const { path, message } of read.error.issues) wrong[String(path[0])] ??= message;
  return read.success && Object.keys(wrong).length === 0 ? { group: read.data } : { wrong };
}
