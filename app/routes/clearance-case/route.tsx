import { data, Form, Link, redirect } from "react-router";
import { db, handOf, notFound } from "~/app/server/context";
import { plannedDevice } from "~/app/server/planning";
import { smallChart } from "~/app/server/smallChart";
import { AreaField } from "~/app/ui/Field";
import { Notice } from "~/app/ui/Notice";
import { UpshiftChart } from "~/app/ui/UpshiftChart";
import { timeText } from "~/app/ui/words";
import { apiOf } from "~/core/android/releases";
import {
  CLEARANCE_EVENTS,
  CLEARANCE_STATES,
  ClearanceEventKind,
  ClearanceState,
  eventsFrom,
} from "~/core/clearance/clearance";
import { currentValue } from "~/core/device/lookUp";
import { appendClearance, clearanceEvents } from "~/store/clearance";
import { findStanding } from "~/store/devices";
import type { Route } from "./+types/route";

export function loader({ params }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing)
    throw notFound(`There is no device ${params.tag}. Look at Intake, or search for the end of its serial number`);
  const device = plannedDevice(db(), standing);
  const release = currentValue<string>(device.facts, "android.release") ?? null;
  return {
    tag: standing.tag,
    title: device.model
      ? `${device.model.maker} ${device.model.names[0]}`
      : String(device.facts.get("model.name")?.value ?? "model not known"),
    donor: standing.donor,
    release,
    state: standing.clearance,
    chart: smallChart(device),
    events: clearanceEvents(db(), standing.id),
    next: eventsFrom(standing.clearance),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await request.formData();
  const evidence = String(form.get("evidence") ?? "");
  const event = ClearanceEventKind.safeParse(form.get("event"));
  const seen = ClearanceState.safeParse(form.get("seen"));
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  if (!event.success || !seen.success) return data({ says: "Choose what happened", evidence }, { status: 400 });
  const release = currentValue<string>(plannedDevice(db(), standing).facts, "android.release");
  const wrong = appendClearance(
    db(),
    params.tag,
    { event: event.data, evidence, seen: seen.data, api: release ? apiOf(release) : null },
    handOf(request),
  );
  return wrong ? data({ says: wrong, evidence }, { status: 409 }) : redirect(`/clearance/${standing.tag}`);
}

export default function ClearanceCase({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, title, donor, release, state, chart, events, next } = loaderData;
  const info = CLEARANCE_STATES[state];
  return (
    <>
      <title>{`${tag} · Clearance · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/clearance">Clearance</Link>
      </p>
      <h1>
        {tag} <span className="font-normal text-soft">{title}</span>
      </h1>
      <p className="hint">
        Donor: {donor || "not written down"} · Android {release ?? "not known"} ·{" "}
        <Link to={`/devices/${tag}`}>all about this device</Link>
      </p>
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-2">
        <section className="sheet self-start" aria-labelledby="gate">
          <h2 id="gate">{info.says}</h2>
          <p>{info.means}.</p>
          <Notice kind={info.opensGate ? "done" : "caution"}>
            {info.opensGate
              ? "The gate is open: the device may be planned and treated."
              : "The gate is shut: nothing is planned, nothing is touched."}
          </Notice>
          {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
          <Form method="post" className="mt-3 space-y-3" key={state}>
            <input type="hidden" name="seen" value={state} />
            <AreaField
              label="How is it known?"
              name="evidence"
              rows={3}
              defaultValue={actionData?.evidence}
              hint="Who signed out or answered, when, what the set-up screen showed. Required to open or shut the gate."
            />
            <fieldset>
              <legend className="label">What happened?</legend>
              <div className="mt-1 flex flex-wrap gap-2">
                {next.map((event) => (
                  <button
                    key={event}
                    type="submit"
                    name="event"
                    value={event}
                    className={
                      event === "confirmed-clear" ? "btn-main" : event === "reported-lost" ? "btn-warn" : "btn"
                    }
                  >
                    {CLEARANCE_EVENTS[event].says}
                  </button>
                ))}
              </div>
            </fieldset>
          </Form>
        </section>
        <section aria-labelledby="history">
          <UpshiftChart compact {...chart} />
          <h2 id="history">What happened so far</h2>
          {events.length === 0 ? (
            <p className="hint mt-1">
              Nothing yet. Switch it on and look whether the set-up asks for an earlier account.
            </p>
          ) : (
            <ol className="mt-2 space-y-3 border-l-[3px] border-lane pl-4">
              {events.map((e) => (
                <li key={e.id}>
                  <p className="font-bold">{CLEARANCE_EVENTS[e.event].says}</p>
                  {e.evidence && <p>{e.evidence}</p>}
                  <p className="hint">
                    {timeText(e.at)}, {e.by}
                  </p>
                </li>
              ))}
            </ol>
          )}
        </section>
      </div>
    </>
  );
}
