import { clearByOf } from "~/app/server/clearance/clearBy";
import { openByAge } from "~/app/server/clearance/openCases";
import { now } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { BandChart } from "~/app/ui/BandChart";
import { ChoiceField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { countText, percentText } from "~/app/ui/words";
import { AGES } from "~/core/clearance/ages";
import { CHANNEL_WORDS, type Channel } from "~/core/clearance/case";
import { listBatches } from "~/store/devices";
import type { Route } from "./+types/route";
import { AgeChart } from "./AgeChart";

/** Below this many askings a figure is no more than an anecdote. */
const FEW = 10;

export function loader({ request }: Route.LoaderArgs) {
  const batches = listBatches(db());
  const asked = new URL(request.url).searchParams.get("batch") ?? "";
  const batch = batches.find((b) => b.id === asked)?.id ?? null;
  return {
    batch,
    batches: batches.map((b) => ({ value: b.id, text: b.title })),
    ...clearByOf(db(), batch, now(db())),
    ages: openByAge(db(), batch, now(db())),
  };
}

const days = (n: number | null) => (n === null ? "not reached yet" : n === 0 ? "the same day" : countText(n, "day"));

export default function ClearBy({ loaderData }: Route.ComponentProps) {
  const { batch, batches, times, points, clear, lost, waiting, donors, likely, ahead, devices, ages } = loaderData;
  const [all] = times;
  const last = points.at(-1);
  return (
    <>
      <title>When will they be clear? · Upshift Lane</title>
      <p className="hint">
        <Link to="/clearance">Clearance</Link>
      </p>
      <h1>When will they be clear?</h1>
      <Form method="get" className="my-3 flex max-w-xl items-end gap-2">
        <ChoiceField
          label="Batch"
          name="batch"
          key={batch}
          defaultValue={batch ?? ""}
          options={[{ value: "", text: "All batches" }, ...batches]}
          className="grow"
        />
        <button type="submit" className="btn">
          Show
        </button>
      </Form>
      <section className="sheet" aria-labelledby="by">
        <h2 id="by">
          {waiting === 0
            ? "Nothing waits for an owner"
            : likely
              ? `All ${clear + waiting} by ${likely}, with a chance of 80 %`
              : `Not all of them within ${ahead} days, as far as donors answer as before`}
        </h2>
        <p className="hint">
          Of {countText(devices, "device")}: {clear} clear or only ours to confirm, {waiting} wait for{" "}
          {countText(donors, "answer")}, {lost} will not come (declined, out of reach, reported lost, set aside). Line:
          expected number. Band: four of five outcomes lie in it.
        </p>
        <BandChart points={points} all={clear + waiting} certain={likely} />
        <details className="text-sm">
          <summary className="cursor-pointer">As a table</summary>
          <Scroll label="Clear devices by date">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">By</th>
                  <th scope="col" className="n">
                    Expected
                  </th>
                  <th scope="col" className="n">
                    From–to
                  </th>
                  <th scope="col" className="n">
                    Chance of all
                  </th>
                </tr>
              </thead>
              <tbody>
                {points
                  .filter((_, i) => i % 7 === 0)
                  .map((p) => (
                    <tr key={p.day}>
                      <td>{p.day}</td>
                      <td className="n">{p.expected}</td>
                      <td className="n">
                        {p.band[0]}–{p.band[1]}
                      </td>
                      <td className="n">{percentText(p.all)}</td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </Scroll>
        </details>
        {last && waiting > 0 && (
          <p className="hint mt-2">
            Expected in the end: {last.expected} of {clear + waiting}. The band knows how donors scatter, not how few
            answers it was learnt from.
          </p>
        )}
      </section>
      <section className="sheet mt-4" aria-labelledby="times">
        <h2 id="times">How long donors take</h2>
        {all.asked === 0 ? (
          <p className="hint">Nobody was asked yet.</p>
        ) : (
          <>
            {all.asked < FEW && (
              <Notice kind="caution">
                This rests on {countText(all.asked, "asking")} only: take it as a hint, not as a promise.
              </Notice>
            )}
            <Scroll label="Answer times">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Asked by</th>
                    <th scope="col">Half have answered after</th>
                    <th scope="col">Four of five after</th>
                    <th scope="col" className="n">
                      Askings
                    </th>
                    <th scope="col" className="n">
                      Answered
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {times.map((t) => (
                    <tr key={t.channel}>
                      <td>
                        {t.channel === "all"
                          ? "Every way"
                          : (CHANNEL_WORDS[t.channel as Channel] ?? "not written down")}
                      </td>
                      <td>{days(t.median)}</td>
                      <td>{days(t.eighty)}</td>
                      <td className="n">{t.asked}</td>
                      <td className="n">{t.answered}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Scroll>
            <p className="hint mt-2">
              Those who have not answered yet count for as long as they have waited (product-limit estimate, Kaplan and
              Meier 1958); several devices of one donor, asked together, count once.
            </p>
          </>
        )}
      </section>
      {ages.length > 0 && (
        <section className="sheet mt-4 max-w-4xl" aria-labelledby="ages">
          <h2 id="ages">Open cases, by state and age</h2>
          <AgeChart rows={ages} ages={AGES.map((a) => a.name)} />
        </section>
      )}
    </>
  );
}
