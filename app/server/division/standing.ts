import { addMinutes, isBefore, parseISO } from "date-fns";
import { z } from "zod";
import { dayOf } from "~/app/server/http/clock";
import { TAKEN_AS_ENOUGH, TakenAsEnough } from "~/core/allocate/takenAsEnough";
import { eveningsBetween, lasts } from "~/core/schedule/hours";
import type { Store } from "~/store/database";
import { standingDivision } from "~/store/divisions";
import { type GroupRow, readOpening } from "~/store/evenings";

/** What is kept of an accepted division beside its devices (act.ts), as far as it is asked for here. */
const DividedDoc = z.object({
  days: z.record(z.string(), z.string()).default({}),
  enough: z.array(TakenAsEnough).default([]),
});

/** The day for which devices were divided to a group, where the group has another one now: the chances are for that day. */
export function dividedForAnotherDay(store: Store, group: GroupRow): string | null {
  const division = standingDivision(store);
  const day = division && DividedDoc.parse(JSON.parse(division.doc)).days[group.id];
  return day && day !== group.by ? day : null;
}

/** What the odds of the division that stands rest on though nobody wrote it down, or though it is over, in words. */
export function restsOn(store: Store, at: Date): readonly string[] {
  const division = standingDivision(store);
  if (!division) return [];
  const { enough } = DividedDoc.parse(JSON.parse(division.doc));
  const divided = parseISO(division.at);
  const over = eveningsBetween(readOpening(store).opening, dayOf(divided), dayOf(at)).filter((evening) => {
    const end = addMinutes(parseISO(`${evening.day}T${evening.from}`), lasts(evening));
    return isBefore(divided, end) && isBefore(end, at);
  }).length;
  return [
    ...enough.map((each) => TAKEN_AS_ENOUGH[each].since),
    ...(over > 0
      ? [
          `Since they were divided ${over === 1 ? "an evening is" : `${over} evenings are`} over: these odds still count on ${over === 1 ? "it" : "them"}`,
        ]
      : []),
  ];
}
