import ical from "ical-generator";
import { db, notFound } from "~/app/server/http/context";
import { timeOf } from "~/app/server/timetable/times";
import { standingTimetable } from "~/app/server/timetable/timetable";
import type { Route } from "./+types/ics";

/** The timetable as a calendar: of one volunteer (?who=), or of all. Times without a zone, as on the house's clock. */
export function loader({ request }: Route.LoaderArgs) {
  const who = new URL(request.url).searchParams.get("who");
  const standing = standingTimetable(db());
  if (!standing?.planned) throw notFound("No timetable was worked out yet. Look at Timetable");
  const { day, pieces } = standing.planned;
  const own = pieces.filter(({ kind, volunteer }) => kind === "hands" && (who === null || volunteer === who));
  if (who !== null && own.length === 0) throw notFound(`There is nothing for ${who} in the timetable`);
  const calendar = ical({ name: who === null ? "Bench evenings" : `Bench evenings of ${who}` });
  for (const { device, title, from, to, volunteer, bench, steps } of own)
    calendar.createEvent({
      // The same piece keeps its mark when the timetable is worked out again: calendars move it instead of doubling it.
      id: `${device}-${steps ? steps[0] : "checkout"}@upshift-lane`,
      start: timeOf(day, from),
      end: timeOf(day, to),
      floating: true,
      summary: `${device}: ${title}`,
      location: bench ?? undefined,
      description: volunteer ?? undefined,
      url: undefined,
    });
  return new Response(calendar.toString(), {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": 'attachment; filename="timetable.ics"',
    },
  });
}
