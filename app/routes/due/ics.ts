import { writeCalendar } from "~/app/server/calendar";
import { now, today } from "~/app/server/clock";
import { db } from "~/app/server/context";
import { openDues } from "~/app/server/dues";

export function loader() {
  const at = now(db());
  return new Response(writeCalendar(openDues(db(), at), today(db()), at), {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": 'attachment; filename="clearance-due.ics"',
    },
  });
}
