/** Bytes as a person reads them: decimal units, as shops and phones use. */
export function bytesText(bytes: number): string {
  if (bytes === 0) return "none";
  if (bytes < 1_000_000) return `${Math.ceil(bytes / 1000)} kB`;
  if (bytes < 1_000_000_000) return `${Math.round(bytes / 1_000_000)} MB`;
  return `${(bytes / 1_000_000_000).toFixed(1)} GB`;
}

export function minutesText(minutes: number): string {
  if (minutes < 90) return `${Math.round(minutes)} min`;
  return `${(minutes / 60).toFixed(1)} h`;
}

/** What became of a promise, in words. */
export const OUTCOME_WORDS = { open: "stands", kept: "kept", broken: "not kept", back: "taken back" } as const;

/** A chance as people may be told it: nothing that is still to come is certain. */
export const chanceText = (chance: number): string =>
  chance > 0.994 ? "over 99 %" : chance < 0.006 ? "under 1 %" : percentText(chance);

/** How sure all that were asked for are; with fewer than that there is no chance to speak of. */
export const allText = (wanted: number, there: number, chance: number): string =>
  there < wanted ? `${wanted - there} too few` : chanceText(chance);

/** How sure so many devices are, in words for those that are still to come: what was handed over already is no chance any more. */
export const sureText = (count: number, given: number, toCome: string): string =>
  count <= given ? "handed over" : toCome;

/** Instead of a chance, once the day is over: what has not come by it will not. */
export const LATE = "late";

export const percentText = (share: number) => `${Math.round(share * 100)} %`;

/** The clock, with its day where that is another one than is spoken of. */
export const momentText = (clock: string, on: string | null): string => (on ? `${dateText(on)}, ${clock}` : clock);

/**
 * The time zone of the house: that of the computer which serves the pages. The browser reads it from the page, so that both
 * write the same time.
 */
export const houseZone: string =
  typeof document === "undefined"
    ? Intl.DateTimeFormat().resolvedOptions().timeZone
    : (document.documentElement.dataset.zone ?? "UTC");

/** Made once: a page tells a hundred times. */
const formatIn = (timeZone: string) =>
  new Intl.DateTimeFormat("en-GB", {
    weekday: "short",
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
    timeZone,
  });
const AT_UTC = formatIn("UTC");
const AT_HOME = formatIn(houseZone);

/** Parts of a moment in the house's time zone; a bare day stays that day. Put together here: engines punctuate differently. */
function partsOf(iso: string): Record<Intl.DateTimeFormatPartTypes, string> {
  const parts = (iso.length === 10 ? AT_UTC : AT_HOME).formatToParts(new Date(iso));
  return Object.fromEntries(parts.map((p) => [p.type, p.value])) as Record<Intl.DateTimeFormatPartTypes, string>;
}

/** "16 Nov, 09:30". */
export function timeText(iso: string): string {
  const { day, month, hour, minute } = partsOf(iso);
  return `${day} ${month.slice(0, 3)}, ${hour}:${minute}`;
}

/** "16 Nov 2026". */
export function dateText(iso: string): string {
  const { day, month, year } = partsOf(iso);
  return `${day} ${month.slice(0, 3)} ${year}`;
}

/** "Mon 16 Nov 2026": who comes on which evening goes by the day of the week. */
export const weekdayText = (iso: string): string => `${partsOf(iso).weekday.slice(0, 3)} ${dateText(iso)}`;

export const countText = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** How a letter left the house. */
export const LETTER_WAYS = {
  outbox: "E-mail, in the outbox",
  copied: "To be told or copied",
  printed: "To be printed",
};

/** Forms of a device, more than one of each. */
export const FORM_WORDS = { phone: "phones", tablet: "tablets", box: "boxes" };
