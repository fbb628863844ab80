import { writeCalendar } from "~/app/server/clearance/calendar";
import { openDues } from "~/app/server/clearance/dues";
import { now, today } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";

export function loader() {
  const at = now(db());
  return new Response(writeCalendar(openDues(db(), at), today(db()), at), {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": 'attachment; filename="clearance-due.ics"',
    },
  });
}
