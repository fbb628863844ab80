import { z } from "zod";
import { IsoDate } from "~/core/catalogue/common";
import { type Evening, lasts, weekdayOf } from "./hours";

/** Somebody who works at the bench. */
export const Volunteer = z.strictObject({
  name: z.string().trim().min(1, "Write a name").max(80),
  /** Ways they may do; none named: every way. */
  ways: z.array(z.string().max(40)).max(40).default([]),
  /** Devices they can mind at once. */
  minds: z.coerce.number().int().min(1, "At least 1").max(20, "At most 20").default(3),
  /** Days of the week on which they come; none named: every evening. */
  days: z.array(z.enum(["MO", "TU", "WE", "TH", "FR", "SA", "SU"])).default([]),
  /** Evenings they can't come. */
  away: z.array(IsoDate).max(200).default([]),
});
export type Volunteer = z.infer<typeof Volunteer>;

/**
 * Evenings on which somebody comes.
 *
 * @example eveningsOf({ days: [], away: ["2026-12-01"] }, [{ day: "2026-12-01", from: "17:00", to: "21:00" }]) // []
 */
export const eveningsOf = ({ days, away }: Pick<Volunteer, "days" | "away">, evenings: readonly Evening[]): Evening[] =>
  evenings.filter(({ day }) => !away.includes(day) && (days.length === 0 || days.includes(weekdayOf(day))));

/**
 * Minutes of hands that there are on an evening, of all volunteers together.
 *
 * @example handsMinutes([], { day: "2026-11-24", from: "18:00", to: "21:00" }) // 0
 */
export const handsMinutes = (volunteers: readonly Pick<Volunteer, "days" | "away">[], evening: Evening): number =>
  volunteers.filter((each) => eveningsOf(each, [evening]).length > 0).length * lasts(evening);

/**
 * Whether somebody may do what takes these ways, all of them.
 *
 * @example mayDo({ ways: ["card"] }, ["card", "unlocking"]) // false
 */
export const mayDo = ({ ways }: Pick<Volunteer, "ways">, wanted: readonly string[]): boolean =>
  ways.length === 0 || wanted.every((way) => ways.includes(way));
