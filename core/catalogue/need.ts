import { z } from "zod";
import { NO_OWN_SCHOOLS, OwnSchools } from "~/core/policy/schools";
import { Api, Hardware, IsoDate, Provenance, Slug } from "./common";

/** An app that must run, with what it asks of a device. */
export const App = z.strictObject({
  name: z.string().min(1).max(60),
  minApi: Api,
  services: z.boolean().default(false),
  integrity: z.boolean().default(false),
  only64: z.boolean().default(false),
  /** Its package name, where it was read from the app itself. */
  package: z.string().max(200).nullable().default(null),
  /** Processor kinds its native code exists for; empty: runs on every one, or not known. */
  abis: z.array(z.string().min(1).max(40)).max(20).default([]),
  /** Hardware it can't do without. */
  hardware: z.array(Hardware).default([]),
});
export type App = z.infer<typeof App>;

/** What a receiving group has to be able to do with a device: the apps and the hardware. */
export const Need = z.strictObject({
  id: Slug,
  name: z.string().min(1).max(60),
  forWhom: z.string().min(1).max(120),
  apps: z.array(App).min(1),
  hardware: z.array(Hardware).default([]),
  forms: z.array(z.enum(["phone", "tablet", "box"])).default(["phone", "tablet"]),
  /** What this group has otherwise than the house. */
  schools: OwnSchools.default(NO_OWN_SCHOOLS),
  note: z.string().max(400).default(""),
  /** What the floor was at a time, for a forecast; in any order. */
  history: z
    .array(z.strictObject({ on: IsoDate, api: Api }))
    .max(200)
    .default([]),
  ...Provenance,
});
export type Need = z.infer<typeof Need>;

/**
 * The app floor of a need: the highest of the lowest API levels.
 *
 * @returns the level and the names of the apps that set it
 * @example floorOf({ apps: [{ name: "Bank", minApi: 29 }, { name: "Maps", minApi: 23 }] }) // { api: 29, setBy: ["Bank"] }
 */
export function floorOf(need: { readonly apps: readonly Pick<App, "name" | "minApi">[] }): {
  readonly api: number;
  readonly setBy: readonly string[];
} {
  const api = Math.max(...need.apps.map((app) => app.minApi));
  return { api, setBy: need.apps.filter((app) => app.minApi === api).map((app) => app.name) };
}

export interface FloorStep {
  /** Apps that set the floor now, and would all have to go for it to sink. */
  readonly apps: readonly string[];
  /** The floor with them, and without; null where nothing would be left. */
  readonly api: number;
  readonly without: number | null;
}

/**
 * The floor from the top down: which apps hold it up, and where it sinks to without them.
 *
 * @example floorSteps({ apps: [{ name: "Bank", minApi: 29 }, { name: "Maps", minApi: 26 }] }).map((s) => s.api) // [29, 26]
 */
export function floorSteps(need: { readonly apps: readonly Pick<App, "name" | "minApi">[] }): FloorStep[] {
  const steps: FloorStep[] = [];
  let left = need.apps;
  while (left.length) {
    const { api, setBy } = floorOf({ apps: left });
    left = left.filter((a) => a.minApi < api);
    steps.push({ apps: setBy, api, without: left.length ? floorOf({ apps: left }).api : null });
  }
  return steps;
}
