import { data } from "react-router";
import { acceptedOf } from "~/app/server/bench/accepted";
import { now } from "~/app/server/http/clock";
import { db, notFound, personOf } from "~/app/server/http/context";
import { readForm, textFields } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { smallChart } from "~/app/server/planning/smallChart";
import { handTonight, whoseTonight } from "~/app/server/timetable/handTonight";
import { tonightFor } from "~/app/server/timetable/tonight";
import { AreaField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { TonightStrip } from "~/app/ui/TonightStrip";
import { UpshiftChart } from "~/app/ui/UpshiftChart";
import { timeText } from "~/app/ui/words";
import { isFinishedRun } from "~/core/lane/station";
import { checkItems } from "~/core/runbook/checkout";
import { checkoutEnd, checksOf } from "~/store/checkouts";
import { findStanding } from "~/store/devices";
import { reportsOf } from "~/store/reports";
import type { Route } from "./+types/route";
import { actAtCheckout } from "./act";

function itemsFor(tag: string) {
  const standing = findStanding(db(), tag);
  if (!standing) throw notFound(`There is no device ${tag}`);
  const { planned, way, run } = acceptedOf(db(), standing);
  const { model, need } = planned;
  const ready = run !== null && isFinishedRun(run);
  const before = {
    baseband: run ? basebandBefore(run.run) : undefined,
    imeiEnd: standing.imei?.slice(-4),
    serialEnd: standing.serial?.slice(-4),
  };
  return { standing, planned, run, way, ready, items: way && model ? checkItems(way, model, need, before) : [] };
}

/** The radio version that was written down before the run changed anything. */
function basebandBefore(run: number): string | undefined {
  for (const report of reportsOf(db(), run)) {
    const values = JSON.parse(report.values) as Record<string, string>;
    const told = values["gsm.version.baseband"] ?? values["version-baseband"];
    if (told) return told;
  }
  return undefined;
}

export function loader({ params, request }: Route.LoaderArgs) {
  const tonight = whoseTonight(request);
  const { standing, planned, run, ready, items, way } = itemsFor(params.tag);
  const checks = run ? checksOf(db(), run.run) : new Map();
  return {
    tonight: tonight === null ? null : tonightFor(db(), tonight, personOf(request), now(db())),
    chart: smallChart(planned),
    tag: standing.tag,
    ready,
    release: way?.release ?? "",
    end: run ? (checkoutEnd(db(), run.run) ?? null) : null,
    items: items.map((i) => ({
      ...i,
      measured: checks.get(i.item)?.measured ?? "",
      result: checks.get(i.item)?.result ?? "",
    })),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const { standing, planned, run, ready, items } = itemsFor(params.tag);
  const form = textFields(await readForm(request));
  if (!ready || !run) return data({ says: "The run at the bench is not finished yet", form }, { status: 409 });
  const wrong = actAtCheckout(
    db(),
    { device: standing.id, run: run.run, items, form, facts: planned.facts },
    handTonight(request),
  );
  if (wrong) return data({ says: wrong, form }, { status: 409 });
  const who = whoseTonight(request);
  if (form.act === "save") return leadOn(`/checkout/${params.tag}${new URL(request.url).search}`);
  return leadOn(who === null ? "/checkout" : `/tonight?${new URLSearchParams({ who })}`);
}

const RESULTS = [
  { value: "ok", text: "all right" },
  { value: "not-ok", text: "not all right" },
  { value: "not-tried", text: "not tried" },
] as const;

export default function CheckoutDevice({ loaderData, actionData }: Route.ComponentProps) {
  const { tonight, chart, tag, ready, items, end, release } = loaderData;
  return (
    <>
      <title>{`${tag} · Checkout · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/checkout">Checkout</Link> · <Link to={`/devices/${tag}`}>all about this device</Link>
      </p>
      {tonight && <TonightStrip tonight={tonight} tag={tag} />}
      <h1>
        {tag} <span className="font-normal text-soft">promised: Android {release}</span>
      </h1>
      <UpshiftChart compact {...chart} />
      {end && (
        <Notice kind={end.result === "done" ? "done" : "caution"}>
          {end.result === "done" ? "Checked out" : `Sent back to the bench: ${end.note}`}, {timeText(end.at)}, {end.by}.
        </Notice>
      )}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {!ready ? (
        <p className="sheet mt-3">
          The run is not finished. <Link to={`/bench/${tag}`}>Go on at the bench</Link>.
        </p>
      ) : (
        <Form method="post" className="mt-3">
          <Scroll label="What to check">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Check</th>
                  <th scope="col">Promised</th>
                  <th scope="col">Measured or seen</th>
                  <th scope="col">Result</th>
                </tr>
              </thead>
              <tbody>
                {items.map((i) => {
                  const kept = actionData?.form;
                  const result = kept?.[`result.${i.item}`] ?? i.result;
                  return (
                    <tr key={i.item}>
                      <td>
                        <strong>{i.title}</strong>
                        {i.must && <span className="hint"> must be right</span>}
                        <span className="hint block">{i.says}</span>
                      </td>
                      <td className="whitespace-nowrap">{i.expect ?? "—"}</td>
                      <td>
                        <input
                          aria-label={`${i.title}: measured or seen`}
                          name={`measured.${i.item}`}
                          className="field"
                          defaultValue={kept?.[`measured.${i.item}`] ?? i.measured}
                          disabled={end !== null}
                        />
                      </td>
                      <td className="sm:whitespace-nowrap">
                        <fieldset disabled={end !== null}>
                          <legend className="sr-only">{i.title}: result</legend>
                          {RESULTS.map((r) => (
                            <label key={r.value} className="mr-3 inline-flex items-center gap-1 whitespace-nowrap">
                              <input
                                type="radio"
                                name={`result.${i.item}`}
                                value={r.value}
                                defaultChecked={result === r.value}
                              />{" "}
                              {r.text}
                            </label>
                          ))}
                        </fieldset>
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </Scroll>
          {!end && (
            <div className="mt-3 max-w-2xl space-y-3">
              <AreaField
                label="Note"
                name="note"
                rows={2}
                defaultValue={actionData?.form?.note}
                hint="Needed when it goes back to the bench."
              />
              <Notice kind="caution">
                A phone that goes to a person must place calls, or be labelled as not a phone.
              </Notice>
              <div className="flex flex-wrap gap-2">
                <button type="submit" name="act" value="done" className="btn-main">
                  Done: hand over
                </button>
                <button type="submit" name="act" value="save" className="btn">
                  Save, go on later
                </button>
                <button type="submit" name="act" value="back" className="btn-warn">
                  Back to the bench
                </button>
              </div>
            </div>
          )}
        </Form>
      )}
    </>
  );
}
