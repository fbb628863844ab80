import { apiOf } from "~/core/android/releases";
import { Hardware } from "~/core/catalogue/common";
import { Need } from "~/core/catalogue/need";
import { readAppTable } from "~/core/catalogue/readApps";
import { slugOf } from "~/core/catalogue/slug";
import { OWN_SCHOOLS } from "~/core/policy/schools";

export type Wrong = Readonly<Record<string, string>>;

/** What stands in the form, to come back with a refusal. */
export interface NeedText {
  readonly name: string;
  readonly forWhom: string;
  readonly note: string;
  readonly source: string;
  readonly history: string;
  readonly app: string;
  readonly lowest: string;
  readonly hardware: readonly string[];
  readonly forms: readonly string[];
  readonly schools: Readonly<Record<(typeof OWN_SCHOOLS)[number], string>>;
}

type OwnKey = (typeof OWN_SCHOOLS)[number];
const eachSchool = <T>(of: (key: OwnKey) => T) =>
  Object.fromEntries(OWN_SCHOOLS.map((key) => [key, of(key)])) as Record<OwnKey, T>;

export function textOfForm(form: FormData): NeedText {
  const text = (key: string) => String(form.get(key) ?? "").trim();
  return {
    name: text("name"),
    forWhom: text("forWhom"),
    note: text("note"),
    source: text("source"),
    history: text("history"),
    app: text("app"),
    lowest: text("lowest"),
    hardware: form.getAll("hardware").map(String),
    forms: form.getAll("forms").map(String),
    schools: eachSchool((key) => text(`schools.${key}`)),
  };
}

export const textOfNeed = (need: Need): NeedText => ({
  name: need.name,
  forWhom: need.forWhom,
  note: need.note,
  source: need.source,
  history: need.history.map((h) => `${h.on}, ${h.api}`).join("\n"),
  app: "",
  lowest: "",
  hardware: need.hardware,
  forms: need.forms,
  schools: eachSchool((key) => need.schools[key] ?? ""),
});

export const EMPTY: NeedText = {
  name: "",
  forWhom: "",
  note: "",
  source: "Asked for by the group",
  history: "",
  app: "",
  lowest: "",
  hardware: [],
  forms: ["phone", "tablet"],
  schools: eachSchool(() => ""),
};

/** Lines "date, level": the level as an API level or a release. */
function readHistory(text: string): { points: { on: string; api: number }[]; wrong: string | null } {
  const points: { on: string; api: number }[] = [];
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    if (!line.trim() || /^\s*(date|on)\s*[,;\t]/i.test(line)) continue;
    const [, on, level] = /^\s*(\d{4}-\d{2}-\d{2})\s*[,;\t ]\s*(?:API\s*)?([\w.]+)\s*$/i.exec(line) ?? [];
    const number = /^\d+$/.test(level ?? "") && Number(level) >= 18 ? Number(level) : apiOf(level ?? "");
    if (!on || number === null || Number.isNaN(Date.parse(on)))
      return { points, wrong: `Line ${i + 1}: write it like 2024-03-01, 26` };
    points.push({ on, api: number });
  }
  return { points, wrong: null };
}

/**
 * Makes a need of what the form says.
 *
 * @param before the need that is edited; null for a new one, whose first app the form names
 */
export function needOfText(
  text: NeedText,
  before: Need | null,
  today: string,
): { readonly ok: true; readonly need: Need } | { readonly ok: false; readonly wrong: Wrong } {
  const wrong: Record<string, string> = {};
  const history = readHistory(text.history);
  if (history.wrong) wrong.history = history.wrong;
  const first = before
    ? null
    : readAppTable({ header: ["name", "lowest"], rows: [{ line: 1, cells: [text.app, text.lowest] }] });
  if (first?.problems[0])
    wrong[text.app ? "lowest" : "app"] = text.app ? first.problems[0].says : "Name one app to begin with";
  const read = Need.safeParse({
    ...before,
    id: before?.id ?? slugOf(text.name),
    name: text.name,
    forWhom: text.forWhom,
    note: text.note,
    source: text.source,
    on: today,
    hardware: text.hardware.filter((h) => Hardware.safeParse(h).success),
    forms: text.forms,
    schools: eachSchool((key) => text.schools[key] || null),
    history: history.points,
    apps: before?.apps ?? first?.apps ?? [],
  });
  if (!read.success)
    for (const issue of read.error.issues) {
      const at = String(issue.path[0]);
      wrong[at === "id" ? "name" : at] ??= issue.code === "too_small" ? "This must be filled in" : issue.message;
    }
  if (text.forms.length === 0) wrong.forms = "Choose phones, tablets or both";
  const { apps: _, ...shown } = wrong;
  return read.success && Object.keys(wrong).length === 0
    ? { ok: true, need: read.data }
    : { ok: false, wrong: before ? shown : wrong };
}
