import * as calendar from "rrule";
import { z } from "zod";
import { IsoDate } from "~/core/catalogue/common";
import { clockAt, minutesOf } from "./clock";

// The package is CommonJS: some loaders give its names, others only the whole of it as a default.
const { RRule } = "default" in calendar && calendar.default ? (calendar.default as typeof calendar) : calendar;

const Clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "Write a time as 18:00");

/**
 * Parts that a rule may have. DTSTART and a step of 0 would have the package count for minutes, and so would days of the
 * month in a daily rule that never come: a house's hours need neither.
 */
const PARTS =
  /^(?:RRULE:)?FREQ=(?:(?:WEEKLY|MONTHLY|YEARLY)(?:;(?:INTERVAL=[1-9]\d?|COUNT=\d{1,3}|UNTIL=[\dTZ]{8,16}|WKST=[A-Z]{2}|BY(?:DAY|MONTHDAY|MONTH|SETPOS|WEEKNO)=[-+\dA-Z,]+))*|DAILY(?:;(?:INTERVAL=[1-9]\d?|BYDAY=[A-Z,]+|UNTIL=[\dTZ]{8,16}))*)$/i;

/** A rule of RFC 5545, such as FREQ=WEEKLY;BYDAY=TU,TH; what repeats more often than daily is no opening hour. */
const Rule = z
  .string()
  .trim()
  .max(200)
  .refine((text) => {
    try {
      return PARTS.test(text) && parsedRule(text).options.freq <= RRule.DAILY;
    } catch {
      return false;
    }
  }, "This is no rule of RFC 5545 that repeats daily, weekly or less often: write FREQ=WEEKLY;BYDAY=TU,TH");

/** When the house is open. */
export const Opening = z.strictObject({
  hours: z
    .array(
      z.strictObject({
        rule: Rule,
        from: Clock,
        minutes: z.coerce.number().int().min(15, "At least 15 minutes").max(960, "At most 16 hours"),
        /** Day from which it counts: the first week of every second one, the first of three. */
        since: IsoDate.optional(),
      }),
    )
    .max(20)
    .default([]),
  /** Days on which it is closed all the same. */
  closed: z.array(IsoDate).max(400, "At most 400 days").default([]),
  /** What the line into the house carries, Mbit/s; null: files are fetched somewhere else before. */
  line: z.coerce.number().min(0.1, "At least 0.1").max(10_000, "At most 10,000").nullable().default(null),
});
export type Opening = z.infer<typeof Opening>;

/** One stretch of time in which people work: times without a zone, as on the house's own clock. */
export type Evening = { readonly day: string; readonly from: string; readonly to: string };

/**
 * Minutes that an evening lasts.
 *
 * @example lasts({ day: "2026-11-24", from: "18:00", to: "21:00" }) // 180
 */
export const lasts = ({ from, to }: Evening): number => minutesOf(to) - minutesOf(from);

/** Any day before which nothing is asked; a rule without a beginning of its own counts from here (a Monday). */
const EPOCH = "2024-01-01";

function parsedRule(text: string, since = EPOCH) {
  const options = RRule.parseString(text.replace(/^RRULE:/i, ""));
  if (options.freq === undefined) throw new RangeError("A rule needs FREQ");
  return new RRule({ ...options, dtstart: new Date(`${since}T00:00:00Z`) });
}

/**
 * Evenings between two days, both among them, in their order.
 *
 * @param from first day, YYYY-MM-DD
 * @param to   last day
 * @source RFC 5545, section 3.3.10 (recurrence rules), by the rrule package
 * @example eveningsBetween({ hours: [], closed: [] }, "2026-11-20", "2026-11-30") // []
 */
export function eveningsBetween({ hours, closed }: Opening, from: string, to: string): Evening[] {
  const never = new Set(closed);
  const evenings = hours.flatMap(({ rule, from: begins, minutes, since }) => {
    const days = parsedRule(rule, since).between(new Date(`${from}T00:00:00Z`), new Date(`${to}T23:59:59Z`), true);
    return days.map((date) => {
      const day = date.toISOString().slice(0, 10);
      return { day, from: begins, to: clockAt(minutesOf(begins) + minutes) };
    });
  });
  const sorted = evenings
    .filter(({ day }) => !never.has(day))
    .sort((a, b) => a.day.localeCompare(b.day) || a.from.localeCompare(b.from));
  // Two rules that meet on a day are one evening: nobody has two pairs of hands.
  const apart: Evening[] = [];
  for (const evening of sorted) {
    const last = apart.at(-1);
    if (last?.day !== evening.day || evening.from > last.to) apart.push(evening);
    else if (evening.to > last.to) apart[apart.length - 1] = { ...last, to: evening.to };
  }
  return apart;
}

/**
 * What hours say that would not be held as it is written: past midnight, or counted from no day.
 *
 * @returns per row what is wrong in words, or null
 * @example hoursAsWritten([{ rule: "FREQ=DAILY", from: "22:00", minutes: 180 }]) // ["It would pass midnight: …"] …
 */
export const hoursAsWritten = (hours: Opening["hours"]): (string | null)[] =>
  hours.map(({ rule, from, minutes, since }) => {
    if (minutesOf(from) + minutes > 24 * 60)
      return "It would pass midnight: an evening ends with its day. Write fewer minutes";
    const [counts] = /COUNT=\d+|INTERVAL=(?!1(?:;|$))\d+/i.exec(rule) ?? [];
    return counts && !since ? `${counts} counts from a day: write it behind the minutes, as 2024-05-01` : null;
  });

const WEEKDAYS = ["SU", "MO", "TU", "WE", "TH", "FR", "SA"] as const;
export type Weekday = (typeof WEEKDAYS)[number];
export const weekdayOf = (day: string): Weekday => WEEKDAYS[new Date(`${day}T00:00:00Z`).getUTCDay()];
