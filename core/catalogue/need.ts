import { z } from "zod";
import { Api, Hardware, Provenance, Slug } from "./common";

export const App = z.strictObject({
  name: z.string().min(1).max(60),
  minApi: Api,
  services: z.boolean().default(false),
  integrity: z.boolean().default(false),
  only64: z.boolean().default(false),
});
export type App = z.infer<typeof App>;

/** What a receiving group has to be able to do with a device: the apps and the hardware. */
export const Need = z.strictObject({
  id: Slug,
  name: z.string().min(1).max(60),
  forWhom: z.string().min(1).max(120),
  apps: z.array(App).min(1),
  hardware: z.array(Hardware).default([]),
  forms: z.array(z.enum(["phone", "tablet"])).default(["phone", "tablet"]),
  note: z.string().max(400).default(""),
  ...Provenance,
});
export type Need = z.infer<typeof Need>;

/**
 * The app floor of a need: the highest of the lowest API levels.
 *
 * @returns the level and the names of the apps that set it
 */
export function floorOf(need: Pick<Need, "apps">): { readonly api: number; readonly setBy: readonly string[] } {
  const api = Math.max(...need.apps.map((app) => app.minApi));
  return { api, setBy: need.apps.filter((app) => app.minApi === api).map((app) => app.name) };
}
