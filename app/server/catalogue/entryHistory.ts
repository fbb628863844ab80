import diff from "microdiff";
import { catalogueHistory, type EntryKind, entryVersion, undoEntry } from "~/store/catalogue";
import type { Hand, Store } from "~/store/database";

export interface EntryChange {
  readonly at: string;
  readonly by: string;
  /** What was different after it, one sentence each; empty for the first. */
  readonly says: readonly string[];
}

const written = (value: unknown) =>
  value === undefined || value === "" || value === null ? "nothing" : JSON.stringify(value);

/** What changed between two states of an entry, place by place. */
export function differences(before: object, after: object): string[] {
  return diff(before, after).map(({ type, path, ...rest }) => {
    const at = path.map((p, i) => (typeof p === "number" ? `[${p + 1}]` : i ? `.${p}` : p)).join("");
    const [old, fresh] = ["oldValue" in rest ? rest.oldValue : undefined, "value" in rest ? rest.value : undefined];
    return type === "CREATE"
      ? `${at}: ${written(fresh)} is new`
      : type === "REMOVE"
        ? `${at}: ${written(old)} is gone`
        : `${at}: ${written(old)} → ${written(fresh)}`;
  });
}

/** History of a catalogue entry, newest first, with what each change changed. */
export function historyOf(
  store: Store,
  kind: EntryKind,
  id: string,
): { readonly version: number; readonly changes: readonly EntryChange[] } {
  const rows = catalogueHistory(store, kind, id);
  return {
    version: entryVersion(store, kind, id),
    changes: rows.slice(0, 30).map(({ at, by, doc }, i) => {
      const before = rows[i + 1];
      const says =
        doc === null
          ? ["taken out of the catalogue"]
          : !before || before.doc === null
            ? []
            : differences(JSON.parse(before.doc), JSON.parse(doc));
      return { at, by, says };
    }),
  };
}

/** Takes the last change of an entry back, as a page's button asks; what stands in the way comes back in words. */
export function undoByForm(
  store: Store,
  kind: EntryKind,
  id: string,
  form: FormData,
  hand: Hand,
): { readonly ok: boolean; readonly says: string } {
  try {
    const said = undoEntry(store, kind, id, Number(form.get("version")), hand);
    return said ? { ok: true, says: said } : { ok: false, says: "There is nothing before this to go back to" };
  } catch (error) {
    return { ok: false, says: (error as Error).message };
  }
}
