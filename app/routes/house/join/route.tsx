import { digestOf, newSecret, sessionCookie } from "~/app/server/access/guest";
import { now } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { refused } from "~/app/server/http/refused";
import { Form } from "~/app/ui/Form";
import { timeText } from "~/app/ui/words";
import { findInvitation, useInvitation as takeInvitation } from "~/store/sessions";
import type { Route } from "./+types/route";

const GONE = "This code was used already, or has run out. Ask the coordinator to show a new one";

export function loader({ params }: Route.LoaderArgs) {
  const found = findInvitation(db(), digestOf(params.token), now(db()).toISOString());
  if (!found) throw refused(410, GONE);
  return { name: found.name, until: found.until };
}

/** Opens the bench on this phone. A code is used by pressing the button: messengers that only look at links use none up. */
export async function action({ request, params }: Route.ActionArgs) {
  await readForm(request);
  const at = now(db());
  const digest = digestOf(params.token);
  const found = findInvitation(db(), digest, at.toISOString());
  const secret = newSecret();
  const agent = (request.headers.get("user-agent") ?? "").slice(0, 120);
  if (!found || !takeInvitation(db(), digest, digestOf(secret), agent, at.toISOString())) throw refused(410, GONE);
  const seconds = (Date.parse(found.until) - at.getTime()) / 1000;
  return leadOn("/bench", { headers: { "set-cookie": sessionCookie(request, secret, seconds) } });
}

export default function Join({ loaderData }: Route.ComponentProps) {
  return (
    <div className="mx-auto max-w-sm">
      <title>At the bench · Upshift Lane</title>
      <h1>Welcome, {loaderData.name}</h1>
      <p className="my-3">
        This phone opens the bench until {timeText(loaderData.until)}. What you do is written down under the name{" "}
        {loaderData.name}.
      </p>
      <Form method="post" className="sheet" reloadDocument>
        <button type="submit" className="btn-main px-6 py-3 text-lg">
          Open the bench
        </button>
      </Form>
    </div>
  );
}
