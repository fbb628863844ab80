import { z } from "zod";
import { AIMS, type Aim } from "./question";

const percent = (least: number, most: number) =>
  z.coerce
    .number(`Write a number from ${least} to ${most}`)
    .min(least, `At least ${least}`)
    .max(most, `At most ${most}`)
    .transform((value) => value / 100);

/** What a division aims at: what counts first, how sure a least number has to be, what may give way for the next aim. */
export const DivisionAims = z.strictObject({
  /** What is left out does not count. */
  aims: z
    .array(z.enum(AIMS))
    .min(1, "At least one aim has to count")
    .refine((aims) => new Set(aims).size === aims.length, "Each aim stands in it once"),
  confidence: percent(50, 99),
  leeway: percent(0, 20),
});
export type DivisionAims = z.infer<typeof DivisionAims>;

/** Least numbers first, met four times in five; half a per cent may give way. Common practice, no source. */
export const DEFAULT_AIMS: DivisionAims = { aims: [...AIMS], confidence: 0.8, leeway: 0.01 };

/**
 * The aims that count, in the order of their places; an empty or zero place: it does not count.
 *
 * @example aimsByPlace({ years: "1", least: "2" }) // ["years", "least"]
 */
export function aimsByPlace(places: Readonly<Partial<Record<Aim, string>>>): Aim[] {
  return AIMS.map((aim, k) => ({ aim, place: Number(places[aim] || 0), k }))
    .filter(({ place }) => Number.isFinite(place) && place > 0)
    .sort((a, b) => a.place - b.place || a.k - b.k)
    .map(({ aim }) => aim);
}
