import { addDays } from "date-fns";
import { CLOCK_SETTING, hasDemoClock, now } from "~/app/server/http/clock";
import { db, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { writeSetting } from "~/store/setting";
import type { Route } from "./+types/route";

/** Sets the demo's clock forward by whole days. A database that is no demo has no such clock. */
export async function action({ request }: Route.ActionArgs) {
  if (!hasDemoClock(db())) throw notFound("Only the demo's clock can be set");
  const form = await readForm(request);
  const days = Math.max(-365, Math.min(365, Math.trunc(Number(form.get("days")) || 0)));
  writeSetting(db(), CLOCK_SETTING, String(addDays(now(db()), days).getTime() - Date.now()));
  const back = String(form.get("back") ?? "/");
  return leadOn(back.startsWith("/") && !back.startsWith("//") ? back : "/");
}

export const loader = () => leadOn("/");
