import { Need } from "./need";
import { readAppTable } from "./readApps";
import { slugOf } from "./slug";

export type FirstNeed =
  | { readonly ok: true; readonly need: Need }
  | { readonly ok: false; readonly wrong: Readonly<Partial<Record<"name" | "text", string>>> };

/**
 * A need of nothing but a name and its apps: each line an app, a comma, the lowest release it runs on.
 *
 * @param text  like "Messenger, 8.0"; a comma, semicolon, tab or colon stands between the two
 * @param on    the day it is written down, ISO
 * @example firstNeed("Reading room", "Messenger, 8.0\nBank, API 29", "2026-11-27")
 */
export function firstNeed(name: string, text: string, on: string): FirstNeed {
  if (!/[a-z0-9]/i.test(name)) return { ok: false, wrong: { name: "Give the group a name" } };
  const lines = text.split(/\r?\n/).map((line, i) => ({ line: i + 1, text: line.trim() }));
  const rows = lines
    .filter((l) => l.text !== "")
    .map((l) => {
      // The last one of them separates: an app's name may hold the others.
      const at = Math.max(...[",", ";", "\t", ":"].map((mark) => l.text.lastIndexOf(mark)));
      return { line: l.line, cells: at < 0 ? [l.text, ""] : [l.text.slice(0, at).trim(), l.text.slice(at + 1).trim()] };
    });
  if (rows.length === 0) return { ok: false, wrong: { text: "Write down one app at least: it sets the floor" } };
  const { apps, problems } = readAppTable({ header: ["name", "lowest"], rows });
  if (problems.length > 0)
    return {
      ok: false,
      wrong: {
        text: problems
          .slice(0, 3)
          .map((p) => `Line ${p.line}: ${p.says}`)
          .join(". "),
      },
    };
  const need = Need.safeParse({
    id: slugOf(name),
    name,
    forWhom: name,
    source: "Asked for by the group",
    on,
    forms: ["phone", "tablet"],
    hardware: [],
    apps,
  });
  if (need.success) return { ok: true, need: need.data };
  const [issue] = need.error.issues;
  return issue.path[0] === "apps"
    ? { ok: false, wrong: { text: issue.message } }
    : { ok: false, wrong: { name: issue.message } };
}
