import { data } from "react-router";
import { now as houseNow } from "~/app/server/http/clock";
import { db, handOf, personOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { acceptTonight } from "~/app/server/timetable/acceptTonight";
import { charge } from "~/app/server/timetable/charging";
import { tonightFor } from "~/app/server/timetable/tonight";
import { BellSwitch } from "~/app/ui/BellSwitch";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { dueOf, useBell } from "~/app/ui/useBell";
import { useFollowed } from "~/app/ui/useFollowed";
import { countText, momentText, weekdayText } from "~/app/ui/words";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const asked = new URL(request.url).searchParams.get("who");
  return { tonight: tonightFor(db(), asked, personOf(request), houseNow(db())) };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const tag = String(form.get("device") ?? "");
  const who = String(form.get("who") ?? "");
  if (form.get("what") === "charge") {
    const failed = charge(db(), tag, String(form.get("bench") ?? ""), handOf(request));
    return failed ? data({ says: failed }, { status: 404 }) : leadOn(`/tonight?${new URLSearchParams({ who })}`);
  }
  const wrong = acceptTonight(db(), tag, handOf(request));
  if (wrong) return data({ says: wrong }, { status: 409 });
  return leadOn(`/bench/${tag}?${new URLSearchParams({ tonight: who })}`);
}

export default function TonightPage({ loaderData, actionData }: Route.ComponentProps) {
  const { tonight } = loaderData;
  useFollowed(tonight?.moves ?? false);
  useBell(tonight ? dueOf(tonight) : []);
  return (
    <>
      <title>Tonight · Upshift Lane</title>
      <h1>
        Tonight {/* In the heading's own line: nothing may move under a thumb that is on its way. */}
        <span className="hint font-normal" role="status">
          {tonight?.moves && "the timetable follows what was written"}
        </span>
      </h1>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      {tonight === null ? (
        <p className="sheet mt-3 max-w-3xl">
          There is no timetable yet. <Link to="/timetable">Work it out</Link>: this page then says what is next for
          whose hands.
        </p>
      ) : (
        <div className="max-w-xl">
          <Form method="get" className="my-2 flex flex-wrap items-end gap-2">
            <label>
              <span className="label">Whose hands</span>
              <select name="who" className="field" defaultValue={tonight.who} key={tonight.who}>
                {tonight.people.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
            <button type="submit" className="btn">
              Show
            </button>
            <div className="pb-2">
              <BellSwitch>Ring when one is due</BellSwitch>
            </div>
          </Form>
          <section className="sheet" aria-labelledby="next">
            <h2 id="next">Next{tonight.next?.on && `: not today, on ${weekdayText(tonight.next.on)}`}</h2>
            {tonight.next ? (
              <>
                <p className="mt-2 text-3xl font-bold">{tonight.next.device}</p>
                <p className="text-xl">{tonight.next.title}</p>
                <p className="mt-1">
                  {tonight.next.begins}–{tonight.next.ends}
                  {tonight.next.bench && `, ${tonight.next.bench}`}
                  {tonight.late > 0 && (
                    <strong className="text-signal"> · {countText(tonight.late, "minute")} late</strong>
                  )}
                </p>
                {tonight.next.charge ? (
                  <Form method="post" className="mt-3">
                    <Notice kind="caution">
                      Swollen, hot, punctured or wet: do not charge, do not press. Put it apart, and{" "}
                      <Link to={`/devices/${tonight.next.device}`}>set it aside</Link>. What charges is not left alone
                      in the house.
                    </Notice>
                    <input type="hidden" name="what" value="charge" />
                    <input type="hidden" name="device" value={tonight.next.device} />
                    <input type="hidden" name="bench" value={tonight.next.bench ?? ""} />
                    <input type="hidden" name="who" value={tonight.who} />
                    <button type="submit" className="btn-main block w-full text-center text-xl">
                      It hangs on the charger
                    </button>
                    <Link to={`/devices/${tonight.next.device}`} className="mt-2 block">
                      It is charged already: write down what it shows
                    </Link>
                  </Form>
                ) : tonight.next.accepted ? (
                  <Link to={tonight.next.to} className="btn-main mt-3 block text-center text-xl">
                    Do it
                  </Link>
                ) : (
                  <Form method="post" className="mt-3">
                    <input type="hidden" name="device" value={tonight.next.device} />
                    <input type="hidden" name="who" value={tonight.who} />
                    <button type="submit" className="btn-main block w-full text-center text-xl">
                      Accept its way, and begin
                    </button>
                    <Link to={`/devices/${tonight.next.device}/ways`} className="mt-2 block">
                      Look at its ways first
                    </Link>
                  </Form>
                )}
              </>
            ) : (
              <p className="mt-2">
                Nothing is left for these hands{tonight.waits > 0 ? " until something else is done" : ""}.
              </p>
            )}
          </section>
          <section className="sheet mt-3" aria-labelledby="running">
            <h2 id="running">Runs by itself</h2>
            {tonight.runs.length === 0 ? (
              <p className="mt-2">Nothing at the moment.</p>
            ) : (
              <ul className="mt-2">
                {tonight.runs.map(({ device, title, until, untilOn, left, stays, to }) => (
                  <li key={device} className="border-t border-rule py-2">
                    <Link to={to} className="text-xl font-bold">
                      {device}
                    </Link>{" "}
                    {title}
                    <span className={`block ${left === 0 ? "text-signal font-bold" : ""}`}>
                      {left === 0
                        ? "due now"
                        : `can be left until ${momentText(until, untilOn)}${untilOn ? "" : `, ${countText(left, "minute")}`}`}
                      {stays && ": stay near it"}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </section>
          {tonight.later.length > 0 && (
            <section className="sheet mt-3" aria-labelledby="later">
              <h2 id="later">After that</h2>
              <ul className="mt-2">
                {tonight.later.map(({ device, title, on, begins }) => (
                  <li key={`${device} ${on} ${begins}`} className="border-t border-rule py-2">
                    {momentText(begins, on)} <span className="font-bold">{device}</span> {title}
                  </li>
                ))}
              </ul>
            </section>
          )}
        </div>
      )}
    </>
  );
}
