import { data } from "react-router";
import { sessionCookie } from "~/app/server/access/guest";
import { hashPassword, isPassword, passwordProblem } from "~/app/server/access/password";
import { now } from "~/app/server/http/clock";
import { db, guestAt, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { timeText } from "~/app/ui/words";
import { ROLE_WORDS } from "~/core/access/roles";
import { accountById, changeAccount } from "~/store/accounts";
import { endSession, endSessionsOf, listSessions } from "~/store/sessions";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const guest = guestAt(request);
  if (!guest || guest.session === null) throw leadOn("/person");
  const mine = listSessions(db(), now(db()).toISOString()).filter((s) =>
    guest.account === null ? s.id === guest.session : s.account === guest.account,
  );
  return {
    name: guest.name,
    role: ROLE_WORDS[guest.role],
    hasPassword: guest.account !== null,
    sessions: mine.map(({ id, agent, begun, seen }) => ({ id, agent, begun, seen, here: id === guest.session })),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const guest = guestAt(request);
  if (!guest || guest.session === null) throw leadOn("/person");
  const at = now(db());
  const gone = { headers: { "set-cookie": sessionCookie(request, null, 0) } };
  const act = form.get("act");
  if (act === "everywhere" && guest.account !== null) {
    endSessionsOf(db(), guest.account, at.toISOString());
    return leadOn("/sign-in", gone);
  }
  if (act === "password" && guest.account !== null) {
    const account = accountById(db(), guest.account);
    const wanted = String(form.get("wanted") ?? "");
    const refuse = (says: string) => data({ says }, { status: 400 });
    if (!(await isPassword(account?.password ?? null, String(form.get("password") ?? ""))))
      return refuse("That is not your password as it is now");
    const problem = passwordProblem(wanted, guest.name);
    if (problem) return refuse(problem);
    changeAccount(db(), guest.account, { what: "password", password: await hashPassword(wanted) }, handOf(request));
    return leadOn("/sign-in", gone);
  }
  if (act !== "out") return data({ says: "Nothing was asked for. Reload the page" }, { status: 400 });
  endSession(db(), guest.session, at.toISOString());
  return leadOn("/sign-in", gone);
}

export default function Account({ loaderData, actionData }: Route.ComponentProps) {
  const { name, role, hasPassword, sessions } = loaderData;
  return (
    <>
      <title>Your account · Upshift Lane</title>
      <h1>{name}</h1>
      <p className="hint">{role}.</p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-2">
        <section className="sheet" aria-labelledby="here">
          <h2 id="here">Signed in</h2>
          <ul className="my-2 text-sm">
            {sessions.map((s) => (
              <li key={s.id} className="py-1">
                {s.here ? <strong>This browser</strong> : s.agent.slice(0, 60) || "A browser"}{" "}
                <span className="hint">
                  since {timeText(s.begun)}, last seen {timeText(s.seen)}
                </span>
              </li>
            ))}
          </ul>
          <Form method="post" className="flex flex-wrap gap-2" reloadDocument>
            <button type="submit" name="act" value="out" className="btn-main">
              Sign out
            </button>
            {hasPassword && (
              <button type="submit" name="act" value="everywhere" className="btn">
                Sign out everywhere
              </button>
            )}
          </Form>
        </section>
        {hasPassword && (
          <section className="sheet" aria-labelledby="password">
            <h2 id="password">Another password</h2>
            <Form method="post" className="mt-2 space-y-3" reloadDocument>
              <TextField
                label="As it is now"
                name="password"
                type="password"
                maxLength={200}
                required
                autoComplete="current-password"
              />
              <TextField
                label="As it shall be"
                name="wanted"
                type="password"
                maxLength={200}
                required
                autoComplete="new-password"
                hint="At least 10 characters: three or four words are easy to keep. You sign in anew afterwards"
              />
              <button type="submit" name="act" value="password" className="btn">
                Change it
              </button>
            </Form>
          </section>
        )}
      </div>
    </>
  );
}
