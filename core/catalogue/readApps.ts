import { apiOf } from "~/core/android/releases";
import type { ApkContent } from "~/core/files/report";
import type { Table } from "~/core/lists/table";
import { isOnly64 } from "./abis";
import { Hardware } from "./common";
import { App } from "./need";

/** Features of the platform that stand for hardware a need can ask for. */
const FEATURES: readonly (readonly [prefix: string, hardware: Hardware])[] = [
  ["android.hardware.telephony", "calls"],
  ["android.hardware.wifi", "wifi"],
  ["android.hardware.bluetooth", "bluetooth"],
  ["android.hardware.camera", "camera"],
  ["android.hardware.fingerprint", "fingerprint"],
  ["android.hardware.nfc", "nfc"],
  ["android.hardware.location.gps", "gps"],
];

/**
 * An app as a need keeps it, from what its package says. That it needs the services package is a guess; whether it asks for
 * an integrity verdict no package tells.
 *
 * @source Android developer documentation, `<uses-feature>`: features that are required keep an app from other devices
 * @example appOfPackage({ package: "example.bank", minApi: 29, … }).minApi // 29
 */
export function appOfPackage(apk: ApkContent): App {
  const required = apk.features.filter((f) => f.required).map((f) => f.name);
  return App.parse({
    name: (apk.label ?? apk.package).slice(0, 60),
    package: apk.package.slice(0, 200),
    minApi: apk.minApi,
    services: apk.namesServices,
    only64: isOnly64(apk.abis),
    abis: apk.abis.slice(0, 20),
    hardware: [
      ...new Set(FEATURES.filter(([p]) => required.some((r) => r === p || r.startsWith(`${p}.`))).map(([, h]) => h)),
    ],
  });
}

const YES = /^(yes|y|true|1|x|ja|on)$/i;
const NO = /^(no|n|false|0|nein|off|)$/i;

type Column = "name" | "lowest" | "services" | "integrity" | "64-bit" | "processors" | "hardware";

const COLUMNS: Record<Column, RegExp> = {
  name: /^(app|name|title)$/i,
  lowest: /^(lowest.*|min.*|api|android.*|sdk.*|release)$/i,
  services: /^services?( package)?$/i,
  integrity: /^integrity.*$/i,
  "64-bit": /^(64.?bit|only64)$/i,
  processors: /^(abis?|cpu.*|processors?)$/i,
  hardware: /^hardware$/i,
};

export interface AppProblem {
  readonly line: number;
  readonly says: string;
}

/** "API 26", "26", "8.0", "Android 8": a level where it is a whole number over the releases' own, else a release. */
function levelOf(text: string): number | null {
  const [, level] = /^api\s*(\d{1,2})$/i.exec(text) ?? [];
  if (level) return Number(level);
  const bare = text.replace(/^android\s*/i, "");
  // A whole number of 18 or more was never a release's name at the time its level was: it is a level.
  if (/^\d+$/.test(bare) && Number(bare) >= 18) return Number(bare);
  return apiOf(bare);
}

/**
 * Reads a list of apps; good rows and problems, each with its line.
 *
 * @example readAppTable({ header: ["name", "lowest"], rows: [{ line: 2, cells: ["Bank", "10"] }] }).apps[0].minApi // 29
 */
export function readAppTable({ header, rows }: Pick<Table, "header" | "rows">): {
  readonly apps: readonly App[];
  readonly problems: readonly AppProblem[];
} {
  const place = new Map<Column, number>();
  for (const [column, pattern] of Object.entries(COLUMNS) as [Column, RegExp][]) {
    const at = header.findIndex((h) => pattern.test(h.trim()));
    if (at >= 0) place.set(column, at);
  }
  const missing = (["name", "lowest"] as const).filter((c) => !place.has(c));
  if (missing.length)
    return {
      apps: [],
      problems: [
        {
          line: 1,
          says: `The first line names no column for ${missing.map((m) => (m === "name" ? "the app's name" : "its lowest release")).join(" and ")}. Write it like: name,lowest,services,integrity,64-bit,processors,hardware`,
        },
      ],
    };
  const apps: App[] = [];
  const problems: AppProblem[] = [];
  for (const { line, cells } of rows) {
    const cell = (c: Column) => (cells[place.get(c) ?? -1] ?? "").trim();
    const wrong: string[] = [];
    const yes = (c: Column) => {
      if (!YES.test(cell(c)) && !NO.test(cell(c))) wrong.push(`${c}: write yes or no, not “${cell(c)}”`);
      return YES.test(cell(c));
    };
    const list = (c: Column) =>
      cell(c)
        .split(/[\s;,/|]+/)
        .filter(Boolean);
    const minApi = levelOf(cell("lowest"));
    if (minApi === null)
      wrong.push(`“${cell("lowest")}” is no Android version or API level; write it like 8.0 or API 26`);
    const hardware = list("hardware").map((h) => h.toLowerCase());
    const strange = hardware.filter((h) => !Hardware.safeParse(h).success);
    if (strange.length) wrong.push(`hardware: “${strange.join(", ")}” is not among ${Hardware.options.join(", ")}`);
    const app = App.safeParse({
      name: cell("name"),
      minApi: minApi ?? 0,
      services: yes("services"),
      integrity: yes("integrity"),
      only64: yes("64-bit"),
      abis: list("processors"),
      hardware: strange.length ? [] : hardware,
    });
    if (!app.success && wrong.length === 0)
      wrong.push(app.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join("; "));
    if (wrong.length) problems.push({ line, says: wrong.join("; ") });
    else if (app.success) apps.push(app.data);
  }
  return { apps, problems };
}

/**
 * Puts apps into a list: one that is there already (same package, else same name) is renewed and keeps its place.
 *
 * @example mergeApps([], []) // []
 */
export function mergeApps(have: readonly App[], fresh: readonly App[]): App[] {
  const merged = [...have];
  for (const app of fresh) {
    const at = merged.findIndex((a) =>
      a.package && app.package ? a.package === app.package : a.name.toLowerCase() === app.name.toLowerCase(),
    );
    // What no package tells was written by a person: it stays.
    if (at >= 0) merged[at] = { ...app, integrity: app.integrity || merged[at].integrity };
    else merged.push(app);
  }
  return merged;
}
