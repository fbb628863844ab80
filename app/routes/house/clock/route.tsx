import { addDays, addMinutes, parseISO } from "date-fns";
import { CLOCK_SETTING, dayOf, hasDemoClock, now } from "~/app/server/http/clock";
import { db, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { eveningsBetween } from "~/core/schedule/hours";
import { readOpening } from "~/store/evenings";
import { writeSetting } from "~/store/setting";
import type { Route } from "./+types/route";

/** Days looked ahead for an evening. */
const AHEAD = 60;

/** When the next evening that is held begins; the same hour tomorrow where none is. */
function nextEvening(): Date {
  const at = now(db());
  const evenings = eveningsBetween(readOpening(db()).opening, dayOf(at), dayOf(addDays(at, AHEAD)));
  const begins = evenings.map(({ day, from }) => parseISO(`${day}T${from}`));
  return begins.find((each) => each > at) ?? addDays(at, 1);
}

const DAY_MINUTES = 24 * 60;

/** Sets the demo's clock: by minutes or whole days, or to the next evening. A database that is no demo has no such clock. */
export async function action({ request }: Route.ActionArgs) {
  if (!hasDemoClock(db())) throw notFound("Only the demo's clock can be set");
  const form = await readForm(request);
  const whole = (name: string, most: number) =>
    Math.max(-most, Math.min(most, Math.trunc(Number(form.get(name)) || 0)));
  const on = addMinutes(addDays(now(db()), whole("days", 365)), whole("minutes", DAY_MINUTES));
  const to = form.get("to") === "evening" ? nextEvening() : on;
  writeSetting(db(), CLOCK_SETTING, String(to.getTime() - Date.now()));
  const back = String(form.get("back") ?? "/");
  return leadOn(back.startsWith("/") && !back.startsWith("//") ? back : "/");
}

export const loader = () => leadOn("/");
