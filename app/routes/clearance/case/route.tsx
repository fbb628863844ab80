import { data } from "react-router";
import { lockOf } from "~/app/server/clearance/cases";
import { openDues } from "~/app/server/clearance/dues";
import { MAX_EXHIBIT_BYTES } from "~/app/server/clearance/exhibits";
import { now } from "~/app/server/http/clock";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readFormWithin } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { deviceName, plannedDevice } from "~/app/server/planning/planning";
import { smallChart } from "~/app/server/planning/smallChart";
import { DueText } from "~/app/ui/DueText";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { UpshiftChart } from "~/app/ui/UpshiftChart";
import { dateText, timeText } from "~/app/ui/words";
import { CHANNEL_WORDS, eventsFrom, everFound } from "~/core/clearance/case";
import { CLEARANCE_EVENTS } from "~/core/clearance/events";
import { PROOF_WORDS, proofsAsked } from "~/core/clearance/proof";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { currentValue } from "~/core/device/lookUp";
import { clearanceEvents } from "~/store/clearance";
import { findStanding } from "~/store/devices";
import { exhibitsOf } from "~/store/exhibits";
import type { Route } from "./+types/route";
import { actOnCase, actOnFiles, caseOf, typedIn } from "./act";
import { CaseForm } from "./CaseForm";
import { CaseMap } from "./CaseMap";
import { Exhibits } from "./Exhibits";

export function loader({ params }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing)
    throw notFound(`There is no device ${params.tag}. Look at Intake, or search for the end of its serial number`);
  const device = plannedDevice(db(), standing);
  const events = clearanceEvents(db(), standing.id);
  const was = caseOf(db(), standing);
  return {
    tag: standing.tag,
    title: deviceName(device, "model not known"),
    donor: standing.donor,
    release: currentValue(device.facts, "android.release") ?? null,
    state: standing.clearance,
    path: [
      "not-looked-at" as const,
      ...events.filter((e) => was.counted.some((c) => c.id === e.id)).map((e) => e.state),
    ],
    seen: was.newest,
    proofs: proofsAsked(was.locks, everFound(was)),
    lock: lockOf(device),
    due: openDues(db(), now(db())).find((d) => d.device.standing.id === standing.id)?.due ?? null,
    chart: smallChart(device),
    files: exhibitsOf(db(), standing.id),
    events,
    next: eventsFrom(was),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const form = await readFormWithin(request, { most: MAX_EXHIBIT_BYTES * 1.1 });
  if (!form)
    return data(
      { says: null, fileSays: "The file is larger than 10 MB. Take a smaller picture", typed: undefined },
      { status: 413 },
    );
  if (form.has("add") || form.has("away")) {
    const fileSays = await actOnFiles(db(), standing, form, handOf(request));
    return fileSays
      ? data({ says: null, fileSays, typed: undefined }, { status: 400 })
      : leadOn(`/clearance/${standing.tag}#exhibits`);
  }
  const wrong = actOnCase(db(), standing, form, handOf(request));
  return wrong
    ? data({ says: wrong, fileSays: null, typed: typedIn(form) }, { status: 409 })
    : leadOn(`/clearance/${standing.tag}`);
}

export default function ClearanceCase({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, title, donor, release, state, path, seen, proofs, lock, due, chart, files, events, next } = loaderData;
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
        Donor: {donor ? <Link to={`/donors/${encodeURIComponent(donor)}`}>{donor}</Link> : "not written down"} · Android{" "}
        {release ?? "not known"} · <Link to={`/devices/${tag}`}>all about this device</Link>
      </p>
      <div className="mt-3">
        <CaseMap state={state} path={path} next={next} />
      </div>
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-2">
        <section className="sheet self-start" aria-labelledby="gate">
          <h2 id="gate">{info.says}</h2>
          <p>{info.means}.</p>
          {due && (
            <p className="mt-1">
              <DueText due={due} />
            </p>
          )}
          <Notice kind={info.opensGate ? "done" : "caution"}>
            {info.opensGate
              ? "The gate is open: the device may be planned and treated."
              : "The gate is shut: nothing is planned, nothing is touched."}
          </Notice>
          {next.includes("no-lock-possible") && <p className="hint">{lock.says}.</p>}
          {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
          <CaseForm key={`${seen}`} seen={seen} next={next} proofs={proofs} typed={actionData?.typed} />
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
                  {e.detail.proofs?.map((proof) => (
                    <p key={proof} className="text-sm">
                      {PROOF_WORDS[proof]}
                    </p>
                  ))}
                  {e.detail.letter !== undefined && (
                    <p className="text-sm">
                      <Link to={`/letters/${e.detail.letter}`}>The letter</Link>
                      {e.detail.channel && ` (${CHANNEL_WORDS[e.detail.channel].toLowerCase()})`}
                    </p>
                  )}
                  {e.detail.promisedFor && <p className="text-sm">For {dateText(e.detail.promisedFor)}</p>}
                  <p className="hint">
                    {timeText(e.at)}, {e.by}
                  </p>
                </li>
              ))}
            </ol>
          )}
          <Exhibits files={files} says={actionData?.fileSays ?? null} />
        </section>
      </div>
    </>
  );
}
