import ICAL from "ical.js";

/** Days of a calendar's events, and what of it was passed over. */
export interface DaysOff {
  readonly days: readonly string[];
  readonly passedOver: readonly string[];
}

/** A calendar of holidays has some hundred events. */
const MOST_EVENTS = 5_000;
/** Times that a calendar's repeating events come, all together, before it is taken for something else. */
const MOST_TIMES = 6_000;
/** An event that lasts longer is no holiday of the house. */
const LONGEST_DAYS = 62;

/**
 * Days on which a calendar has whole-day events, first and last day among them: repeating ones, moved ones and days that are
 * taken out again (EXDATE, cancelled) as the calendar says. What has a time of day is no day off, and is told.
 *
 * @param text a calendar (RFC 5545)
 * @param from first day, YYYY-MM-DD
 * @param to   last day
 * @returns the days in their order, or what is wrong in words
 * @source RFC 5545, by the ical.js package
 * @example typeof daysOff("no calendar", "2026-12-01", "2026-12-31") // "string"
 */
export function daysOff(text: string, from: string, to: string): DaysOff | string {
  let events: ICAL.Component[];
  try {
    const parsed = ICAL.parse(text);
    // Some files hold several calendars one after the other.
    const list: readonly unknown[][] = typeof parsed[0] === "string" ? [parsed] : parsed;
    const calendars = list.map((each) => new ICAL.Component(each));
    if (calendars.some(({ name }) => name !== "vcalendar"))
      return "This is no calendar: it does not begin with BEGIN:VCALENDAR";
    events = calendars.flatMap((calendar) => calendar.getAllSubcomponents("vevent"));
  } catch (error) {
    return `This calendar can't be read (${error instanceof Error ? error.message.slice(0, 120) : "broken"}). Save it again as ICS`;
  }
  if (events.length === 0) return "There is no event in this calendar";
  if (events.length > MOST_EVENTS)
    return `There are more than ${MOST_EVENTS} events in it: choose a calendar of holidays`;
  const days = new Set<string>();
  const passedOver = new Set<string>();
  const moved = events.filter((event) => event.hasProperty("recurrence-id"));
  const left = { times: MOST_TIMES };
  for (const component of events) {
    if (component.hasProperty("recurrence-id")) continue;
    try {
      for (const day of daysOfEvent(component, moved, { from, to, left, passedOver })) days.add(day);
    } catch {
      passedOver.add(`${nameOf(component)}: its dates can't be read`);
    }
  }
  return { days: [...days].sort(), passedOver: [...passedOver] };
}

const nameOf = (component: ICAL.Component) =>
  String(component.getFirstPropertyValue("summary") ?? "an event without a name");
const isCancelled = (component: ICAL.Component) =>
  String(component.getFirstPropertyValue("status") ?? "").toUpperCase() === "CANCELLED";

interface Asked {
  readonly from: string;
  readonly to: string;
  readonly left: { times: number };
  readonly passedOver: Set<string>;
}

/** A holiday comes once a week at most; the package would look for ever for a day of a finer rule that never comes. */
const HOLIDAYS = new Set(["YEARLY", "MONTHLY", "WEEKLY"]);

function* daysOfEvent(component: ICAL.Component, moved: readonly ICAL.Component[], asked: Asked): Generator<string> {
  const { to, left, passedOver } = asked;
  const name = nameOf(component);
  const own = moved.filter((each) => each.getFirstPropertyValue("uid") === component.getFirstPropertyValue("uid"));
  const event = new ICAL.Event(component, { exceptions: [...own] });
  if (!event.startDate) {
    passedOver.add(`${name}: it has no day`);
    return;
  }
  if (!event.startDate.isDate) {
    passedOver.add(`${name}: it has a time of day`);
    return;
  }
  if (isCancelled(component)) return;
  if (!event.isRecurring()) {
    yield* daysBetween(event.startDate, event.endDate, name, asked);
    return;
  }
  const rules = component.getAllProperties("rrule").map((each) => each.getFirstValue() as ICAL.Recur);
  if (rules.some(({ freq }) => !HOLIDAYS.has(freq))) {
    passedOver.add(`${name}: it repeats too often to be a holiday`);
    return;
  }
  const monthDays = rules.flatMap(({ parts }) => (parts.BYMONTHDAY as number[] | undefined) ?? []);
  const times = event.iterator();
  while (left.times-- > 0) {
    const next = times.next();
    if (!next || next.toString() > to) return;
    // The package takes 30 February for 2 March: what is no such day of the month never comes.
    if (monthDays.length > 0 && monthDays.every((day) => day > 0 && day !== next.day)) continue;
    const { startDate, endDate, item } = event.getOccurrenceDetails(next);
    if (!isCancelled(item.component)) yield* daysBetween(startDate, endDate, name, asked);
  }
  passedOver.add(`${name}: what repeats in this calendar comes too often`);
}

/** @param end the day behind the last one, as calendars have it; some have none, or the same day */
function* daysBetween(
  start: ICAL.Time,
  end: ICAL.Time | null,
  name: string,
  { from, to, passedOver }: Asked,
): Generator<string> {
  const day = start.clone();
  for (let k = 0; k === 0 || (end && day.compare(end) < 0); k++) {
    if (k === LONGEST_DAYS) {
      passedOver.add(`${name}: it lasts longer than ${LONGEST_DAYS} days; its first ${LONGEST_DAYS} are taken`);
      return;
    }
    const text = day.toString().slice(0, 10);
    if (text >= from && text <= to) yield text;
    day.adjust(1, 0, 0, 0);
  }
}
