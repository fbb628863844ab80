import { z } from "zod";
import { refusalOf } from "~/app/server/http/refusal";
import type { App, Need } from "~/core/catalogue/need";
import { type AppProblem, appOfPackage, mergeApps, readAppTable } from "~/core/catalogue/readApps";
import { ApkContent } from "~/core/files/report";
import { readCsv } from "~/core/lists/table";
import { saveEntry } from "~/store/catalogue";
import type { Hand, Store } from "~/store/database";

export interface AppsAnswer {
  readonly ok: boolean;
  readonly says: string;
  readonly problems: readonly AppProblem[];
}

const refuse = (says: string, problems: readonly AppProblem[] = []): AppsAnswer => ({ ok: false, says, problems });

/** Apps of dropped packages, as the page read them. */
const Packages = z.array(ApkContent).min(1).max(500);

/** Does what a form of the apps page asks; good rows of a list are taken in, the others come back with their lines. */
export function changeApps(store: Store, need: Need, form: FormData, hand: Hand): AppsAnswer {
  const text = (key: string) => String(form.get(key) ?? "").trim();
  const version = Number(form.get("version"));
  const save = (apps: readonly App[], says: string, problems: readonly AppProblem[] = []): AppsAnswer => {
    try {
      saveEntry(store, "need", { ...need, apps: [...apps], on: hand.at.slice(0, 10) }, version, hand);
      return { ok: true, says, problems };
    } catch (error) {
      return refuse(refusalOf(error));
    }
  };
  const drop = text("drop");
  if (drop) {
    const left = need.apps.filter((a) => a.name !== drop);
    return left.length ? save(left, `${drop} is not asked for any more`) : refuse("A need keeps at least one app");
  }
  if (form.has("packages")) {
    let json: unknown = null;
    try {
      json = JSON.parse(text("packages"));
    } catch {
      // Refused below like anything else that is no list of packages.
    }
    const read = Packages.safeParse(json);
    if (!read.success) return refuse("These are no app packages");
    return save(mergeApps(need.apps, read.data.map(appOfPackage)), `${read.data.length} read from app packages`);
  }
  const table = form.has("list")
    ? readCsv(text("list"), 500)
    : {
        ok: true as const,
        header: ["name", "lowest", "services", "integrity", "64-bit"],
        rows: [{ line: 1, cells: ["name", "lowest", "services", "integrity", "only64"].map(text) }],
      };
  if (!table.ok) return refuse(table.says);
  const { apps, problems } = readAppTable(table);
  if (apps.length === 0) return refuse("No app could be taken in", problems);
  return save(mergeApps(need.apps, apps), `${apps.length} taken in`, problems);
}
