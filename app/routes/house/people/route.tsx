import { addHours } from "date-fns";
import { data } from "react-router";
import { digestOf, isOpenHouse, newSecret } from "~/app/server/access/guest";
import { hashPassword, passwordProblem } from "~/app/server/access/password";
import { now } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { qrPath } from "~/app/server/http/qrPath";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { timeText } from "~/app/ui/words";
import { accountNameProblem } from "~/core/access/accountName";
import { isRole, ROLE_WORDS, ROLES } from "~/core/access/roles";
import { accountById, accountHistory, addAccount, changeAccount, hasAccounts, listAccounts } from "~/store/accounts";
import { addInvitation, endSession, listSessions } from "~/store/sessions";
import type { Route } from "./+types/route";

/** How long a code on the screen can be scanned, hours; and how long the phone is let in then. */
const CODE_HOURS = 0.25;
const EVENING_HOURS = 6;

export function loader() {
  const store = db();
  return {
    open: isOpenHouse(store),
    accounts: listAccounts(store).map(({ id, name, role, closed, at }) => ({ id, name, role, closed, at })),
    sessions: listSessions(store, now(store).toISOString()).map(
      ({ id, name, role, account, agent, seen, expires }) => ({
        ...{ id, name, role, agent, seen, expires },
        phone: account === null,
      }),
    ),
    history: accountHistory(store),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const store = db();
  const hand = handOf(request);
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const refuse = (says: string, status = 400) => data({ says, name: text("name"), code: null }, { status });
  const id = Number(form.get("id"));
  const password = String(form.get("password") ?? "");
  const ended = (wrong: string | null) => (wrong ? refuse(wrong, 409) : leadOn("/people"));
  const act = text("act");
  switch (act) {
    case "add": {
      const name = text("name");
      const unfit = accountNameProblem(name);
      if (unfit) return refuse(unfit);
      // The first one must be able to make the others.
      const role = hasAccounts(store) ? text("role") : "coordinator";
      if (!isRole(role)) return refuse("Choose a role");
      const problem = passwordProblem(password, name);
      if (problem) return refuse(problem);
      return ended(addAccount(store, { name, role, password: await hashPassword(password) }, hand));
    }
    case "role": {
      const role = text("role");
      if (!isRole(role)) return refuse("Choose a role");
      return ended(changeAccount(store, id, { what: "role", role }, hand));
    }
    case "password": {
      const problem = passwordProblem(password, accountById(store, id)?.name ?? "");
      if (problem) return refuse(problem);
      return ended(changeAccount(store, id, { what: "password", password: await hashPassword(password) }, hand));
    }
    case "close":
    case "reopen":
      return ended(changeAccount(store, id, { what: act }, hand));
    case "end":
      endSession(store, id, hand.at);
      return leadOn("/people");
    case "phone": {
      const name = text("name");
      if (name.length < 2 || name.length > 60) return refuse("Write the volunteer's name");
      if (isOpenHouse(store)) return refuse("In an open house nobody signs in: make an account first");
      const secret = newSecret();
      const at = now(store);
      addInvitation(store, {
        digest: digestOf(secret),
        name,
        role: "bench",
        until: addHours(at, EVENING_HOURS).toISOString(),
        expires: addHours(at, CODE_HOURS).toISOString(),
      });
      const address = `${new URL(request.url).origin}/join/${secret}`;
      return data({ says: "", name, code: { address, qr: qrPath(address) } });
    }
    default:
      return refuse("Nothing was asked for. Reload the page");
  }
}

const ROLE_OPTIONS = ROLES.map((role) => ({ value: role, text: ROLE_WORDS[role] }));

export default function People({ loaderData, actionData }: Route.ComponentProps) {
  const { open, accounts, sessions, history } = loaderData;
  const code = actionData?.code;
  return (
    <>
      <title>People · Upshift Lane</title>
      <h1>People</h1>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      {open && (
        <Notice kind="caution">
          This house is open: whoever sits at this computer may do everything, and nobody else reaches it. With the
          first account, a coordinator's, everybody signs in from then on. The lane answers other computers only then.
        </Notice>
      )}
      {code && (
        <section className="sheet mt-3 flex flex-wrap items-center gap-6" aria-labelledby="code">
          <svg
            className="size-56 bg-white"
            viewBox={`-4 -4 ${code.qr.size + 8} ${code.qr.size + 8}`}
            role="img"
            aria-label="Code to scan"
          >
            <path d={code.qr.path} fill="black" shapeRendering="crispEdges" />
          </svg>
          <div className="max-w-md">
            <h2 id="code">{actionData?.name} scans this with the phone</h2>
            <p className="my-2">
              It opens the bench on that phone for this evening, {EVENING_HOURS} hours, under that name. The code works
              once, for a quarter of an hour.
            </p>
            <p className="hint break-all font-mono">{code.address}</p>
          </div>
        </section>
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-2">
        <section className="sheet" aria-labelledby="new">
          <h2 id="new">{open ? "The first account" : "New account"}</h2>
          {/* Emptied once the account is there: its password is nobody else's. */}
          <Form key={accounts.length} method="post" className="mt-2 space-y-3">
            <TextField label="Name" name="name" maxLength={60} required autoComplete="off" />
            {!open && <ChoiceField label="Role" name="role" defaultValue="bench" options={ROLE_OPTIONS} />}
            <TextField
              label="Password"
              name="password"
              type="password"
              maxLength={200}
              required
              autoComplete="new-password"
              hint="At least 10 characters. Tell it to the person: they change it at their account"
            />
            <button type="submit" name="act" value="add" className="btn-main">
              Make it
            </button>
          </Form>
        </section>
        {!open && (
          <section className="sheet" aria-labelledby="phone">
            <h2 id="phone">A volunteer's own phone, for this evening</h2>
            <Form method="post" className="mt-2 space-y-3">
              <TextField label="Whose" name="name" maxLength={60} required autoComplete="off" />
              <button type="submit" name="act" value="phone" className="btn-main">
                Show a code to scan
              </button>
            </Form>
          </section>
        )}
      </div>
      {accounts.length > 0 && (
        <section className="mt-5" aria-labelledby="accounts">
          <h2 id="accounts">Accounts</h2>
          <Scroll label="All accounts">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Name</th>
                  <th scope="col">Role</th>
                  <th scope="col">New password</th>
                  <th scope="col">Open or closed</th>
                </tr>
              </thead>
              <tbody>
                {accounts.map((a) => (
                  <tr key={a.id}>
                    <td>
                      <strong>{a.name}</strong>{" "}
                      <span className="hint">{a.closed && `closed ${timeText(a.closed)}`}</span>
                    </td>
                    <td>
                      <OnRow id={a.id}>
                        <select name="role" defaultValue={a.role} aria-label={`Role of ${a.name}`} className="field">
                          {ROLES.map((r) => (
                            <option key={r}>{r}</option>
                          ))}
                        </select>
                        <button type="submit" name="act" value="role" className="btn">
                          Set
                        </button>
                      </OnRow>
                    </td>
                    <td>
                      <OnRow id={a.id}>
                        <input
                          name="password"
                          type="password"
                          maxLength={200}
                          aria-label={`New password of ${a.name}`}
                          autoComplete="new-password"
                          className="field"
                        />
                        <button type="submit" name="act" value="password" className="btn">
                          Set
                        </button>
                      </OnRow>
                    </td>
                    <td>
                      <OnRow id={a.id}>
                        <button type="submit" name="act" value={a.closed ? "reopen" : "close"} className="btn">
                          {a.closed ? "Open again" : "Close"}
                        </button>
                      </OnRow>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
        </section>
      )}
      {sessions.length > 0 && (
        <section className="mt-5" aria-labelledby="sessions">
          <h2 id="sessions">Signed in now</h2>
          <table className="rows">
            <tbody>
              {sessions.map((s) => (
                <tr key={s.id}>
                  <td>
                    <strong>{s.name}</strong> {s.role}
                    {s.phone && ", own phone"}
                  </td>
                  <td className="hint">{s.agent.slice(0, 50)}</td>
                  <td className="hint">
                    last seen {timeText(s.seen)}, until {timeText(s.expires)}
                  </td>
                  <td>
                    <OnRow id={s.id}>
                      <button type="submit" name="act" value="end" className="btn">
                        Sign out<span className="sr-only"> {s.name}</span>
                      </button>
                    </OnRow>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {history.length > 0 && (
        <section className="mt-5" aria-labelledby="history">
          <h2 id="history">History</h2>
          <ul className="text-sm">
            {history.map((h, i) => (
              <li key={i}>
                {h.name}: {h.what}{" "}
                <span className="hint">
                  {timeText(h.at)}, {h.by}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** A form on a row of a table: what is done is done to the entry of that row. */
function OnRow({ id, children }: { id: number; children: React.ReactNode }) {
  return (
    <Form method="post" className="flex gap-2">
      <input type="hidden" name="id" value={id} />
      {children}
    </Form>
  );
}
