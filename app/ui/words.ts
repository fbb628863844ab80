import { format, parseISO } from "date-fns";

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

export const percentText = (share: number) => `${Math.round(share * 100)} %`;

/** "16 Nov, 09:30". */
export const timeText = (iso: string) => format(parseISO(iso), "d MMM, HH:mm");
export const dateText = (iso: string) => format(parseISO(iso), "d MMM yyyy");

export const countText = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** How a letter left the house. */
export const LETTER_WAYS = {
  outbox: "E-mail, in the outbox",
  copied: "To be told or copied",
  printed: "To be printed",
};
