import { Link } from "react-router";
import { db, guestAt } from "~/app/server/http/context";
import { countStations, placedDevices } from "~/app/server/planning/lane";
import { VerdictMark } from "~/app/ui/Verdict";
import { countText, dateText } from "~/app/ui/words";
import { STATION_NAMES, STATIONS } from "~/core/lane/stations";
import { rankQuestions, type Verdict } from "~/core/upgrade/plan";
import { listBatches } from "~/store/devices";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const personal = guestAt(request)?.seesPersonalData ?? false;
  const batches = listBatches(db()).map((batch) => {
    const devices = placedDevices(db(), batch.id);
    const verdicts = new Map<Verdict, number>();
    for (const d of devices) verdicts.set(d.plan.verdict, (verdicts.get(d.plan.verdict) ?? 0) + 1);
    return {
      ...batch,
      // A batch's note says where it was collected: people's names, often.
      note: personal ? batch.note : "",
      stations: countStations(devices),
      verdicts: [...verdicts],
      questions: rankQuestions(
        devices.filter((d) => d.station !== "records" && d.station !== "aside").map((d) => d.plan),
      ).slice(0, 4),
    };
  });
  return { batches };
}

export default function Today({ loaderData }: Route.ComponentProps) {
  const { batches } = loaderData;
  return (
    <>
      <title>Upshift Lane</title>
      <h1>Where the devices stand</h1>
      {batches.length === 0 && (
        <div className="sheet mt-4 max-w-xl">
          <h2>Nothing is here yet</h2>
          <p className="my-2">
            First bring in the <Link to="/catalogue">catalogue</Link> of models and images, then make a batch at{" "}
            <Link to="/intake">Intake</Link> and take its devices in.
          </p>
        </div>
      )}
      {batches.map((batch) => (
        <section key={batch.id} className="sheet mt-4" aria-labelledby={`b-${batch.id}`}>
          <h2 id={`b-${batch.id}`}>
            <Link to={`/match?batch=${batch.id}`}>{batch.title}</Link>
          </h2>
          <p className="hint">
            {countText(batch.devices, "device")}, received {dateText(batch.received)}. {batch.note}
          </p>
          <p className="mt-3 flex flex-wrap gap-2">
            {batch.verdicts.map(([verdict, n]) => (
              <VerdictMark key={verdict} verdict={verdict} count={n} />
            ))}
          </p>
          <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-2">
            <div>
              <h3>On the lane</h3>
              <table className="rows">
                <tbody>
                  {STATIONS.map((s) => (
                    <tr key={s}>
                      <td>
                        <Link to={`/${s}?batch=${batch.id}`}>{STATION_NAMES[s]}</Link>
                      </td>
                      <td className="n">{batch.stations[s]}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            <div>
              <h3>Questions that would decide most</h3>
              {batch.questions.length === 0 ? (
                <p className="hint">No question is open.</p>
              ) : (
                <ol className="mt-1 list-decimal pl-5">
                  {batch.questions.map(({ question, devices }) => (
                    <li key={question.fact + question.code} className="my-1">
                      {question.says} <span className="hint">— {countText(devices, "device")}</span>
                    </li>
                  ))}
                </ol>
              )}
            </div>
          </div>
        </section>
      ))}
    </>
  );
}
