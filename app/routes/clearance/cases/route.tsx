import { casesOf } from "~/app/server/clearance/cases";
import { openDues } from "~/app/server/clearance/dues";
import { now } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { groupedBy } from "~/app/server/planning/groupedBy";
import { keptBy } from "~/app/server/planning/keptBy";
import { type Placed, placedDevices } from "~/app/server/planning/lane";
import { deviceName } from "~/app/server/planning/planning";
import { DueText } from "~/app/ui/DueText";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { countText, timeText } from "~/app/ui/words";
import { DUE_WORDS } from "~/core/clearance/followUp";
import { CLEARANCE_STATES, ClearanceState } from "~/core/clearance/states";
import type { Route } from "./+types/route";

/** Cases shown at most; the filters narrow them down. */
const SHOWN = 500;

/** The devices by the state of their case, those set aside left out; and all whose gate is shut, in their order. */
const byState = keptBy((devices: readonly Placed[]) => {
  const here = devices.filter((d) => d.station !== "aside");
  return {
    of: groupedBy(here, (d) => d.standing.clearance),
    waiting: here.filter((d) => !CLEARANCE_STATES[d.standing.clearance].opensGate),
  };
});

export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const state = ClearanceState.safeParse(params.get("state")).data ?? null;
  const { of, waiting } = byState(placedDevices(db(), params.get("batch")));
  const counts = ClearanceState.options.map((s) => ({ state: s, n: of.get(s)?.length ?? 0 }));
  const at = now(db());
  const caseOf = casesOf(db());
  const dues = new Map(openDues(db(), at).map((d) => [d.device.standing.id, d.due]));
  const open = (state ? (of.get(state) ?? []) : waiting)
    .map((d) => ({ device: d, due: dues.get(d.standing.id) ?? null }))
    .sort((a, b) => (b.due?.daysOver ?? -999) - (a.due?.daysOver ?? -999));
  return {
    state,
    counts,
    count: open.length,
    overdue: [...dues.values()].filter((d) => d.daysOver > 0).length,
    devices: open.slice(0, SHOWN).map(({ device: d, due }) => ({
      tag: d.standing.tag,
      name: deviceName(d),
      donor: d.standing.donor,
      clearance: d.standing.clearance,
      since: caseOf(d.standing.id).since,
      due,
    })),
  };
}

export default function Clearance({ loaderData }: Route.ComponentProps) {
  const { counts, count, devices, state, overdue } = loaderData;
  return (
    <>
      <title>Clearance · Upshift Lane</title>
      <h1>Clearance</h1>
      <Notice kind="caution">
        A locked device may be lost or stolen. Only the owner, the issuing organisation, or the maker on proof of
        purchase can release it: ask them. Nothing is planned and nothing is touched until that is settled. Local law
        comes first.
      </Notice>
      <ul className="my-3 flex flex-wrap gap-2" aria-label="Work at Clearance">
        <li>
          <Link to="/due" className={overdue ? "btn-main" : "btn"}>
            Due list {overdue > 0 && <span className="tabular-nums">({overdue} late)</span>}
          </Link>
        </li>
        <li>
          <Link to="/letters/ask" className="btn">
            Ask many at once
          </Link>
        </li>
        <li>
          <Link to="/letters" className="btn">
            Letters sent
          </Link>
        </li>
        <li>
          <Link to="/clear-by" className="btn">
            When will they be clear?
          </Link>
        </li>
      </ul>
      <ul className="my-3 flex flex-wrap gap-2" aria-label="Filter by state">
        <li>
          <Link to="/clearance" className={state ? "btn" : "btn-main"}>
            All that hold things up
          </Link>
        </li>
        {counts
          .filter((c) => c.n > 0)
          .map((c) => (
            <li key={c.state}>
              <Link to={`/clearance?state=${c.state}`} className={state === c.state ? "btn-main" : "btn"}>
                {CLEARANCE_STATES[c.state].says} <span className="tabular-nums">{c.n}</span>
              </Link>
            </li>
          ))}
      </ul>
      {devices.length === 0 ? (
        <p className="sheet">
          Every account lock is settled. Go on to <Link to="/match">Match</Link>.
        </p>
      ) : (
        <Scroll label="Cases">
          <table className="rows">
            <caption className="sr-only">{countText(devices.length, "device")}</caption>
            <thead>
              <tr>
                <th scope="col">Tag</th>
                <th scope="col">Device</th>
                <th scope="col">Donor</th>
                <th scope="col">State</th>
                <th scope="col">Since</th>
                <th scope="col">What is next</th>
                <th scope="col">When</th>
              </tr>
            </thead>
            <tbody>
              {devices.map((d) => (
                <tr key={d.tag}>
                  <td>
                    <Link to={`/clearance/${d.tag}`} className="font-bold whitespace-nowrap">
                      {d.tag}
                    </Link>
                  </td>
                  <td>{d.name}</td>
                  <td>{d.donor ? <Link to={`/donors/${encodeURIComponent(d.donor)}`}>{d.donor}</Link> : "—"}</td>
                  <td className="whitespace-nowrap">{CLEARANCE_STATES[d.clearance].says}</td>
                  <td className="whitespace-nowrap">{d.since ? timeText(d.since) : "—"}</td>
                  <td>{d.due ? DUE_WORDS[d.due.kind] : "—"}</td>
                  <td className="whitespace-nowrap">{d.due ? <DueText due={d.due} bare /> : "—"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      {count > SHOWN && (
        <p className="hint">
          The {SHOWN} most urgent of {count} are shown.
        </p>
      )}
      <Form method="get" action="/clearance.csv" reloadDocument className="mt-4 flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2">
          <input type="checkbox" name="numbers" value="whole" /> with whole serial numbers and IMEIs (personal data)
        </label>
        <button type="submit" className="btn">
          All cases as CSV
        </button>
      </Form>
    </>
  );
}
