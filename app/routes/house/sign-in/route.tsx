import { data } from "react-router";
import { isOpenHouse, sessionCookie } from "~/app/server/access/guest";
import { signIn } from "~/app/server/access/signIn";
import { now } from "~/app/server/http/clock";
import { addressOf, db, guestAt } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  if (isOpenHouse(db()) || guestAt(request)) throw leadOn("/");
  return { back: new URL(request.url).searchParams.get("back") ?? "/" };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const name = String(form.get("name") ?? "").trim();
  const given = {
    name: name.slice(0, 60),
    password: String(form.get("password") ?? ""),
    address: addressOf(request),
    agent: request.headers.get("user-agent") ?? "",
  };
  const signed = await signIn(db(), given, now(db()));
  if (!signed.ok) return data({ says: signed.says, name }, { status: signed.status });
  const cookie = sessionCookie(request, signed.secret, signed.seconds);
  return leadOn(String(form.get("back") ?? "/"), { headers: { "set-cookie": cookie } });
}

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <div className="mx-auto max-w-sm">
      <title>Sign in · Upshift Lane</title>
      <h1>Sign in</h1>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      <Form method="post" className="sheet mt-3 space-y-3" reloadDocument>
        <input type="hidden" name="back" value={loaderData.back} />
        <TextField
          label="Name"
          name="name"
          defaultValue={actionData?.name}
          maxLength={60}
          required
          autoComplete="username"
        />
        <TextField
          label="Password"
          name="password"
          type="password"
          maxLength={200}
          required
          autoComplete="current-password"
        />
        <button type="submit" className="btn-main">
          Sign in
        </button>
      </Form>
      <p className="hint mt-3">
        Forgotten? A coordinator gives you a new password at People. At the bench with your own phone: scan the code on
        the coordinator's screen instead.
      </p>
    </div>
  );
}
