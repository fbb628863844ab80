/** Who does what in the house. */
export const ROLES = ["coordinator", "bench", "desk", "looker-on"] as const;
export type Role = (typeof ROLES)[number];

export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  coordinator: "Coordinator: everything",
  bench: "Bench: brings devices up, checks them out; sees no donors and no whole numbers",
  desk: "Desk: takes devices in, writes to donors, keeps clearance",
  "looker-on": "Looker-on: reads plans and the library, changes nothing",
};

/**
 * Whether a text names a role.
 *
 * @example isRole("desk") // true
 */
export const isRole = (text: string): text is Role => (ROLES as readonly string[]).includes(text);

/**
 * Donors' names and whole identity numbers are for those who write to donors and answer for the house.
 *
 * @example seesPersonalData("bench") // false
 */
export const seesPersonalData = (role: Role): boolean => role === "coordinator" || role === "desk";

/** Who may read a page, and who may change something with it. */
export interface Access {
  readonly read: readonly Role[];
  readonly write: readonly Role[];
}

const ALL = ROLES;
const LEADS: readonly Role[] = ["coordinator"];
const DESK: readonly Role[] = ["coordinator", "desk"];
const BENCH: readonly Role[] = ["coordinator", "bench"];
const HANDS: readonly Role[] = ["coordinator", "bench", "desk"];
const NOBODY: readonly Role[] = [];

const only = (who: readonly Role[]): Access => ({ read: who, write: who });
const readBy = (read: readonly Role[], write: readonly Role[] = NOBODY): Access => ({ read, write });

/** Pages that are there before anybody has signed in. */
export const OPEN_PATTERNS: readonly string[] = [
  "/sign-in",
  "/join/:token",
  "/devices/:tag/report",
  "/devices/:tag/packages-seen",
];

/**
 * Every page of the lane by its pattern in the table of routes: what stands in no group is open to nobody. A test holds the
 * two tables against each other.
 */
const GROUPS: readonly (readonly [Access, readonly string[]])[] = [
  [
    readBy(ALL),
    [
      "/match",
      "/coverage",
      "/rules",
      "/models",
      "/models.csv",
      "/images",
      "/images.csv",
      "/floors",
      "/floors.csv",
      "/bench/live",
      "/bench/taught",
    ],
  ],
  [readBy(ALL, LEADS), ["/"]],
  [readBy(ALL), ["/catalogue.json", "/catalogue.schema.json", "/*"]],
  [
    readBy(ALL, LEADS),
    ["/match/:model", "/devices/:tag/ways", "/models/:id", "/images/:id", "/floors/:id", "/known", "/clock"],
  ],
  [readBy(ALL, HANDS), ["/devices/:tag"]],
  [readBy(ALL, ALL), ["/account"]],
  [
    only(LEADS),
    ["/people", "/benches", "/catalogue", "/catalogue/packs/:id", "/policy", "/models/new", "/models/:id/edit/:part"],
  ],
  [
    only(LEADS),
    ["/images/new", "/images/:id/edit/:part", "/floors/new", "/floors/:id/edit", "/floors/:id/apps", "/person"],
  ],
  [only(LEADS), ["/devices/:tag/packages/new", "/groups/new"]],
  [readBy(["coordinator", "bench", "desk"]), ["/timetable.ics"]],
  [
    readBy(["coordinator", "bench", "desk"], LEADS),
    ["/groups", "/groups/:id", "/division", "/evenings", "/timetable", "/tonight"],
  ],
  [only(LEADS), ["/groups/:id/letter", "/groups/:id/letter.eml"]],
  [
    only(DESK),
    ["/intake", "/intake/list", "/intake/lists/:id.csv", "/intake/lists/:id", "/intake/jobs/:id", "/intake/device"],
  ],
  [
    only(DESK),
    [
      "/many",
      "/register",
      "/clearance",
      "/clearance/:tag",
      "/clearance.csv",
      "/evidence/:id",
      "/due",
      "/due.ics",
      "/clear-by",
    ],
  ],
  [
    only(DESK),
    [
      "/letters",
      "/letters/ask",
      "/letters/texts",
      "/letters/texts/:id",
      "/letters/:id.eml",
      "/letters/:id",
      "/donors/:name",
    ],
  ],
  [
    only(HANDS),
    ["/intake/scan", "/intake/plugged", "/intake/charge", "/aside", "/labels", "/search", "/files", "/files/seen"],
  ],
  [readBy(ALL, BENCH), ["/bench", "/checkout"]],
  [only(BENCH), ["/bench/:tag", "/bench/:tag/log", "/checkout/:tag", "/prepare", "/prepare/:file"]],
  [
    only(BENCH),
    ["/devices/:tag/room", "/devices/:tag/packages", "/devices/:tag/packages-back.sh", "/devices/:tag/identity.sh"],
  ],
  [
    only(BENCH),
    ["/batches/:batch/plan.json", "/devices/:tag/runbook.json", "/devices/:tag/runbook.md", "/devices/:tag/runbook.sh"],
  ],
  [readBy(["coordinator", "desk", "looker-on"]), ["/records", "/records.csv"]],
];

const BY_PATTERN: ReadonlyMap<string, Access> = new Map(
  GROUPS.flatMap(([access, patterns]) => patterns.map((p) => [p, access] as const)),
);

/** What a page allows; a page that stands in no group allows nothing. */
export const accessOf = (pattern: string): Access => BY_PATTERN.get(pattern) ?? only(NOBODY);

/** All patterns that stand in a group. */
export const knownPatterns = (): readonly string[] => [...BY_PATTERN.keys()];

/**
 * Whether somebody may do that.
 *
 * @example mayDo("looker-on", "POST", "/policy") // false
 */
export const mayDo = (role: Role, method: string, pattern: string): boolean =>
  (method === "POST" ? accessOf(pattern).write : accessOf(pattern).read).includes(role);
