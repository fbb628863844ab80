import ical, { ICalCalendarMethod } from "ical-generator";
import { DUE_WORDS } from "~/core/clearance/followUp";
import type { DueDevice } from "./dues";

/**
 * The due days as a calendar: one all-day entry for each day and kind of work, so that a hundred devices are not a hundred
 * entries. What is late stands on today. Donors are not named: calendars are shared.
 *
 * @param today day as 2026-11-30
 * @source RFC 5545 (iCalendar)
 */
export function writeCalendar(dues: readonly DueDevice[], today: string, at: Date): string {
  const calendar = ical({
    name: "Clearance: what is due",
    prodId: { company: "upshift-lane", product: "clearance", language: "EN" },
    method: ICalCalendarMethod.PUBLISH,
  });
  const days = new Map<string, { day: string; kind: keyof typeof DUE_WORDS; tags: string[] }>();
  for (const { device, due } of dues) {
    const day = due.on < today ? today : due.on;
    const key = `${day}.${due.kind}`;
    const entry = days.get(key) ?? { day, kind: due.kind, tags: [] };
    entry.tags.push(device.standing.tag);
    days.set(key, entry);
  }
  for (const [key, { day, kind, tags }] of [...days].sort(([a], [b]) => (a < b ? -1 : 1)))
    calendar.createEvent({
      // The same work on the same day replaces itself when the calendar is taken in again.
      id: `${key}@upshift-lane.invalid`,
      start: new Date(`${day}T00:00:00Z`),
      allDay: true,
      timezone: "UTC",
      stamp: at,
      summary: `${DUE_WORDS[kind]} (${tags.length})`,
      description: tags.join(", "),
    });
  return calendar.toString();
}
