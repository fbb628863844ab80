import { db } from "~/app/server/http/context";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { percentText } from "~/app/ui/words";
import { readPolicy } from "~/store/policy";
import type { Route } from "./+types/route";
import { operationRows, promiseRows, stopRows } from "./queries";
import { ReliabilityChart } from "./ReliabilityChart";
import { TimesChart } from "./TimesChart";

export function loader() {
  return {
    weight: readPolicy(db()).policy.priorRuns,
    operations: operationRows(db()),
    stops: stopRows(db()),
    promises: promiseRows(db()),
  };
}

const min = (m: number | null) => (m === null ? "—" : m === 0 ? "under 0.1 min" : `${m} min`);

export default function Taught({ loaderData }: Route.ComponentProps) {
  const { weight, operations, stops, promises } = loaderData;
  return (
    <>
      <title>What the bench taught · Upshift Lane</title>
      <p className="hint">
        <Link to="/bench">Bench</Link>
      </p>
      <h1>What the bench taught</h1>
      <p className="hint my-2 max-w-3xl">
        Every run that has ended moves the chances and times that plans reckon with. The handbook's figures weigh as
        much as {weight} own runs (<Link to="/policy">policy</Link>). What happened with the same image on other models,
        and with other images, counts before what happened here.
      </p>
      {operations.length === 0 ? (
        <p className="sheet">No run has ended yet: plans rest on the handbook alone.</p>
      ) : (
        <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
          <section className="sheet" aria-labelledby="operations">
            <h2 id="operations">Operations: promised and measured</h2>
            <TimesChart rows={operations} />
            <Scroll label="Operations" className="mt-2">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Operation</th>
                    <th scope="col">Model</th>
                    <th scope="col" className="text-right">
                      Went well
                    </th>
                    <th scope="col" className="text-right">
                      Chance now
                    </th>
                    <th scope="col" className="text-right">
                      Between
                    </th>
                    <th scope="col" className="text-right">
                      Promised
                    </th>
                    <th scope="col" className="text-right">
                      Median
                    </th>
                    <th scope="col" className="text-right">
                      Four of five by
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {operations.map((o) => (
                    <tr key={`${o.kind}|${o.image}|${o.model}`}>
                      <td>
                        {o.says}
                        {o.image && (
                          <span className="hint block">
                            <Link to={`/images/${o.image}`}>{o.title}</Link>
                          </span>
                        )}
                      </td>
                      <td>
                        <Link to={`/models/${o.model}`}>{o.model}</Link>
                      </td>
                      <td className="text-right tabular-nums">
                        {o.ok} of {o.of}
                      </td>
                      <td className="text-right tabular-nums">{o.chance === null ? "—" : percentText(o.chance)}</td>
                      <td className="text-right whitespace-nowrap tabular-nums">
                        {o.low === null || o.high === null ? "—" : `${percentText(o.low)} and ${percentText(o.high)}`}
                      </td>
                      <td className="text-right tabular-nums">{min(o.promised)}</td>
                      <td className="text-right tabular-nums">{min(o.median)}</td>
                      <td className="text-right tabular-nums">{min(o.fourOfFive)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Scroll>
            <p className="hint mt-2">
              Times are clocks of steps. A step that ran on for more than twice its latest time was a pause, or a night:
              it counts with its usual time.
            </p>
          </section>
          <div className="grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-2">
            <section className="sheet" aria-labelledby="stops">
              <h2 id="stops">Where runs stop, and what helped next</h2>
              {stops.length === 0 ? (
                <p className="hint">No run has stopped and no step has gone wrong yet.</p>
              ) : (
                <ul className="mt-1 space-y-2">
                  {stops.map((s) => (
                    <li key={s.title}>
                      <strong>{s.title}</strong>: {s.count === 1 ? "once" : `${s.count} times`}
                      {s.seen.length > 0 && <span className="hint block">{s.seen.join("; ")}</span>}
                      {s.next.map((n) => (
                        <span key={n} className="hint block">
                          then {n}
                        </span>
                      ))}
                    </li>
                  ))}
                </ul>
              )}
            </section>
            <section className="sheet" aria-labelledby="promises">
              <h2 id="promises">How well promises held</h2>
              {promises.brier === null ? (
                <p className="hint">No promise has been put to the test yet.</p>
              ) : (
                <>
                  <p>
                    Brier score <strong>{promises.brier.toFixed(3)}</strong>, from {promises.of}{" "}
                    {promises.of === 1 ? "run" : "runs"}. 0 is perfect; always saying one half gives 0.25.
                  </p>
                  <ReliabilityChart bins={promises.bins} />
                  <table className="rows">
                    <thead>
                      <tr>
                        <th scope="col">Promised</th>
                        <th scope="col" className="text-right">
                          Kept
                        </th>
                        <th scope="col" className="text-right">
                          Runs
                        </th>
                      </tr>
                    </thead>
                    <tbody>
                      {promises.bins.map((b) => (
                        <tr key={b.from}>
                          <td>
                            {percentText(b.from)} to {percentText(b.to)}
                          </td>
                          <td className="text-right tabular-nums">{percentText(b.kept)}</td>
                          <td className="text-right tabular-nums">{b.of}</td>
                        </tr>
                      ))}
                    </tbody>
                  </table>
                </>
              )}
            </section>
          </div>
        </div>
      )}
    </>
  );
}
