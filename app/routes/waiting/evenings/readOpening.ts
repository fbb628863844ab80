import { hoursAsWritten, Opening } from "~/core/schedule/hours";

export type Wrong = Readonly<Record<string, string>>;

/** What was typed line by line, by commas or semicolons. */
export const lines = (text: string) =>
  text
    .split(/[\n,;]/)
    .map((line) => line.trim())
    .filter(Boolean);

/** A line is a rule, a time, minutes and maybe the day it counts from: FREQ=WEEKLY;INTERVAL=2;BYDAY=TU 18:00 180 2024-05-07. */
export function readOpeningText(
  hours: string,
  closed: string,
  line: string,
): { readonly opening: Opening } | { readonly wrong: Wrong } {
  const rows = hours
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
  const read = rows.map((line) => /^(\S+)\s+(\S+)\s+(\d+)(?:\s+(\S+))?$/.exec(line));
  const unread = read.findIndex((found) => !found);
  if (unread >= 0)
    return {
      wrong: { hours: `Line ${unread + 1}: write rule, time and minutes, as FREQ=WEEKLY;BYDAY=TU,TH 18:00 180` },
    };
  const opening = Opening.safeParse({
    hours: read.map((found) => ({ rule: found?.[1], from: found?.[2], minutes: found?.[3], since: found?.[4] })),
    closed: lines(closed),
    line: line === "" ? null : line.replace(",", "."),
  });
  if (opening.success) {
    const said = hoursAsWritten(opening.data.hours);
    const row = said.findIndex((each) => each !== null);
    return row < 0 ? { opening: opening.data } : { wrong: { hours: `Line ${row + 1}: ${said[row]}` } };
  }
  const wrong: Record<string, string> = {};
  for (const { path, message } of opening.error.issues) {
    const [field, row] = path;
    wrong[String(field)] ??= typeof row === "number" ? `Line ${row + 1}: ${message}` : message;
  }
  return { wrong };
}
