import { addDays, format, parseISO, set } from "date-fns";

const DAY = 24 * 60;

/**
 * A time on the house's own clock, from the minutes since the timetable's first day began. Every day has 24 hours here, also
 * the ones on which clocks are changed: 18:00 on an evening is 18:00 for everybody.
 */
export const timeOf = (day: string, minute: number): Date =>
  set(addDays(parseISO(day), Math.floor(minute / DAY)), { hours: 0, minutes: ((minute % DAY) + DAY) % DAY });
export const clockOf = (day: string, minute: number): string => format(timeOf(day, minute), "HH:mm");
export const dayOfMinute = (day: string, minute: number): string => format(timeOf(day, minute), "yyyy-MM-dd");

/** The minute of a moment, by the same clock. */
export function minuteOf(day: string, at: Date): number {
  const days = Math.round((Date.parse(format(at, "yyyy-MM-dd")) - Date.parse(day)) / 86_400_000);
  return days * DAY + at.getHours() * 60 + at.getMinutes() + at.getSeconds() / 60;
}
