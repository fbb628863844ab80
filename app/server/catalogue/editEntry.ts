import type { z } from "zod";
import { refusalOf } from "~/app/server/http/refusal";
import { editSection } from "~/core/catalogue/editSection";
import type { Section } from "~/core/catalogue/sections";
import { type Entry, type EntryKind, saveEntry } from "~/store/catalogue";
import type { Hand, Store } from "~/store/database";

export interface EditAnswer {
  readonly ok: boolean;
  readonly says: string;
  readonly wrong: Readonly<Record<string, string>>;
  readonly kept: Readonly<Record<string, readonly string[]>>;
  readonly id: string;
}

/**
 * Saves a part of an entry as a form says; what was typed comes back with every refusal.
 *
 * @param entry the entry as it stands, or the beginning of a new one
 */
export function editEntry<T extends Entry>(
  store: Store,
  kind: EntryKind,
  entry: T,
  section: Section,
  schema: z.ZodType<T>,
  form: FormData,
  hand: Hand,
): EditAnswer {
  const kept = Object.fromEntries([...new Set(form.keys())].map((k) => [k, form.getAll(k).map(String)]));
  const refuse = (says: string, wrong: EditAnswer["wrong"] = {}): EditAnswer => ({
    ok: false,
    says,
    wrong,
    kept,
    id: entry.id,
  });
  const read = editSection(entry, section, form, schema);
  if (!read.ok) return refuse("Nothing was saved: look at the marked fields", read.wrong);
  try {
    saveEntry(store, kind, read.entry, Number(form.get("rests-on")), hand);
  } catch (error) {
    return refuse(refusalOf(error));
  }
  return { ok: true, says: "", wrong: {}, kept: {}, id: read.entry.id };
}
