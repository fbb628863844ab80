import { data } from "react-router";
import { today } from "~/app/server/http/clock";
import { db, guestAt, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { refusalOf } from "~/app/server/http/refusal";
import { firstSteps } from "~/app/server/planning/firstSteps";
import { countStations, placedDevices } from "~/app/server/planning/lane";
import { toldOf } from "~/app/server/planning/told";
import { Link } from "~/app/ui/Link";
import { VerdictMark } from "~/app/ui/Verdict";
import { countText, dateText } from "~/app/ui/words";
import { firstNeed } from "~/core/catalogue/firstNeed";
import { STATION_NAMES, STATIONS } from "~/core/lane/stations";
import { rankQuestions, type Verdict } from "~/core/upgrade/plan";
import { saveEntry } from "~/store/catalogue";
import { countedBatches } from "~/store/devices";
import type { Route } from "./+types/route";
import { FirstStepsList } from "./FirstStepsList";

export function loader({ request }: Route.LoaderArgs) {
  const personal = guestAt(request)?.seesPersonalData ?? false;
  const batches = countedBatches(db()).map((batch) => {
    const devices = placedDevices(db(), batch.id);
    const verdicts = new Map<Verdict, number>();
    for (const { plan, outcome } of devices) {
      const { verdict } = toldOf(plan, outcome);
      verdicts.set(verdict, (verdicts.get(verdict) ?? 0) + 1);
    }
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
  const leads = guestAt(request)?.role === "coordinator";
  return { batches, leads, steps: leads ? firstSteps(db()) : null };
}

/** The first need of a house that has none: its name and its apps, nothing else. */
export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request, { long: { text: 20_000 } });
  const name = String(form.get("name") ?? "").trim();
  const text = String(form.get("text") ?? "");
  const read = firstNeed(name, text, today(db()));
  if (!read.ok) return data({ name, text, wrong: read.wrong }, { status: 400 });
  try {
    saveEntry(db(), "need", read.need, 0, handOf(request));
  } catch (error) {
    refusalOf(error);
    return data({ name, text, wrong: { name: "There is a need of this name already" } }, { status: 409 });
  }
  return leadOn("/");
}

export default function Today({ loaderData, actionData }: Route.ComponentProps) {
  const { batches, leads, steps } = loaderData;
  return (
    <>
      <title>Upshift Lane</title>
      <h1>Where the devices stand</h1>
      {steps && leads && <FirstStepsList steps={steps} typed={actionData ?? null} />}
      {batches.length === 0 && !leads && (
        <p className="sheet mt-4 max-w-xl">Nothing is here yet: the coordinator takes the first devices in.</p>
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
