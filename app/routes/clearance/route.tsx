import { Link } from "react-router";
import { db } from "~/app/server/context";
import { placedDevices } from "~/app/server/lane";
import { isOverdue } from "~/app/server/laneStops";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { countText, timeText } from "~/app/ui/words";
import { CLEARANCE_STATES, ClearanceState } from "~/core/clearance/clearance";
import { clearanceEvents } from "~/store/clearance";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const state = ClearanceState.safeParse(params.get("state")).data ?? null;
  const all = placedDevices(db(), params.get("batch"));
  const counts = ClearanceState.options.map((s) => ({
    state: s,
    n: all.filter((d) => d.standing.clearance === s).length,
  }));
  const open = all.filter((d) =>
    state ? d.standing.clearance === state : !CLEARANCE_STATES[d.standing.clearance].opensGate,
  );
  const now = new Date();
  return {
    state,
    counts,
    devices: open.slice(0, 500).map((d) => {
      const last = clearanceEvents(db(), d.standing.id).at(-1);
      return {
        tag: d.standing.tag,
        name: d.model ? `${d.model.maker} ${d.model.names[0]}` : String(d.facts.get("model.name")?.value ?? "unknown"),
        donor: d.standing.donor,
        clearance: d.standing.clearance,
        since: last?.at ?? null,
        evidence: last?.evidence ?? "",
        overdue: isOverdue(db(), d, now),
      };
    }),
  };
}

export default function Clearance({ loaderData }: Route.ComponentProps) {
  const { counts, devices, state } = loaderData;
  return (
    <>
      <title>Clearance · Upshift Lane</title>
      <h1>Clearance</h1>
      <Notice kind="caution">
        A locked device may be lost or stolen. Only the owner, the issuing organisation, or the maker on proof of
        purchase can release it: ask them. Nothing is planned and nothing is touched until that is settled. Local law
        comes first.
      </Notice>
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
                <th scope="col">Evidence or note</th>
              </tr>
            </thead>
            <tbody>
              {devices.map((d) => (
                <tr key={d.tag}>
                  <td>
                    <Link to={`/clearance/${d.tag}`} className="font-bold">
                      {d.tag}
                    </Link>
                  </td>
                  <td>{d.name}</td>
                  <td>{d.donor}</td>
                  <td className="whitespace-nowrap">
                    {CLEARANCE_STATES[d.clearance].says}
                    {d.overdue && <span className="ml-2 font-bold text-signal">! remind</span>}
                  </td>
                  <td className="whitespace-nowrap">{d.since ? timeText(d.since) : "—"}</td>
                  <td>{d.evidence || "—"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </>
  );
}
