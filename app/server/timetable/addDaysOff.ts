import { addYears } from "date-fns";
import { dayOf } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { daysOff } from "~/core/schedule/daysOff";
import { Opening } from "~/core/schedule/hours";
import type { Hand } from "~/store/database";
import { readOpening, saveOpening } from "~/store/evenings";

/** A calendar of holidays has some tens of kilobytes. */
const MOST_BYTES = 2_000_000;
/** Further than so nobody plans evenings. */
const YEARS = 2;
/** Events that are named when they are passed over. */
const NAMED = 4;

/**
 * Writes the days of a calendar down as closed, beside those that stand.
 *
 * @returns what was done, or what is wrong, in words
 * @throws StaleEdit
 */
export async function addDaysOff(
  file: FormDataEntryValue | null,
  version: number,
  hand: Hand,
): Promise<{ readonly says: string; readonly told: string }> {
  const refuse = (says: string) => ({ says: `${says}. Nothing was changed`, told: "" });
  if (!(file instanceof File) || file.size === 0) return refuse("Choose a calendar file (ICS)");
  if (file.size > MOST_BYTES) return refuse("This calendar is larger than 2 MB: choose one that has only holidays");
  const at = new Date(hand.at);
  const read = daysOff(await file.text(), dayOf(at), dayOf(addYears(at, YEARS)));
  if (typeof read === "string") return refuse(read);
  const { opening } = readOpening(db());
  const fresh = read.days.filter((day) => !opening.closed.includes(day));
  const over = read.passedOver.length
    ? `. Passed over: ${read.passedOver.slice(0, NAMED).join("; ")}${read.passedOver.length > NAMED ? `; and ${read.passedOver.length - NAMED} more` : ""}`
    : "";
  if (fresh.length === 0)
    return refuse(`It has no whole day in the next ${YEARS} years that is not closed already${over}`);
  const next = Opening.safeParse({ ...opening, closed: [...opening.closed, ...fresh].sort() });
  if (!next.success) return refuse(next.error.issues[0].message);
  saveOpening(db(), next.data, version, hand);
  return {
    says: "",
    told: `Closed on ${fresh.length} more ${fresh.length === 1 ? "day" : "days"}, ${fresh[0]} first${over}`,
  };
}
