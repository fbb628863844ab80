import { data } from "react-router";
import { acceptedOf } from "~/app/server/bench/accepted";
import { db, guestAt, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { listedImei } from "~/app/server/intake/listedImei";
import { whereaboutsOf } from "~/app/server/planning/lane";
import { catalogueOf, indexOf } from "~/app/server/planning/planning";
import { imageTitles } from "~/app/server/planning/shownWays";
import { smallChart } from "~/app/server/planning/smallChart";
import { goesNoFurther, toldOf } from "~/app/server/planning/told";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { QuestionList, StopList } from "~/app/ui/Reasons";
import { Scroll } from "~/app/ui/Scroll";
import { StaleWay } from "~/app/ui/StaleWay";
import { UpshiftChart } from "~/app/ui/UpshiftChart";
import { useMay } from "~/app/ui/useMay";
import { VerdictMark } from "~/app/ui/Verdict";
import { wayTitle } from "~/app/ui/WayCompare";
import { dateText, minutesText, timeText } from "~/app/ui/words";
import { modelTitle } from "~/core/catalogue/model";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { brokenHardware } from "~/core/device/brokenHardware";
import { maskNumber, readImei } from "~/core/device/imei";
import { currentValue } from "~/core/device/lookUp";
import { outcomeOf } from "~/core/lane/station";
import { changesOfDevice, findStanding, isTouched, tagOf } from "~/store/devices";
import { factsOf } from "~/store/facts";
import { identityCopies } from "~/store/identityCopies";
import { packagesSeen } from "~/store/packagesSeen";
import { registerOf } from "~/store/register";
import { runStanding } from "~/store/runs";
import { noteShown } from "~/store/shown";
import type { Route } from "./+types/route";
import { actOnDevice } from "./act";
import { DetailsForm } from "./DetailsForm";
import { EndDevice } from "./EndDevice";
import { FactForm, HardwareForm, ReadOutForm } from "./FactForms";
import { FactTable } from "./FactTable";
import { IdentityCopies } from "./IdentityCopies";
import { factLines, historyOf, whoIsIt } from "./queries";
import { WhoIsIt } from "./WhoIsIt";

export function loader({ params, request }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing)
    throw notFound(`There is no device ${params.tag}. Look at Intake, or search for the end of its serial number`);
  const accepted = acceptedOf(db(), standing);
  const { planned, way: chosen } = accepted;
  const { plan, model, need } = planned;
  const outcome = outcomeOf(whereaboutsOf(planned, runStanding(db(), standing.run)));
  const imei = standing.imei ? readImei(standing.imei) : null;
  const personal = guestAt(request)?.seesPersonalData ?? false;
  const whole = personal && new URL(request.url).searchParams.get("numbers") === "whole";
  if (whole) noteShown(db(), standing.id, "serial number and IMEI", handOf(request));
  const number = (text: string | null) => (text === null || whole ? text : maskNumber(text));
  const listed = standing.imei === null ? listedImei(db(), standing.id) : null;
  return {
    standing: {
      ...standing,
      way: undefined,
      serial: number(standing.serial),
      imei: number(standing.imei),
      donor: personal ? standing.donor : "",
    },
    personal,
    register: registerOf(db(), standing.id),
    who: model ? null : whoIsIt(db(), planned),
    returns: standing.returns === null ? null : tagOf(db(), standing.returns),
    whole,
    imeiSays: imei && !imei.ok ? imei.says : null,
    listed: listed && { ...listed, text: number(listed.text) },
    model: model
      ? { id: model.id, title: modelTitle(model), names: model.names, board: model.board, hardware: model.hardware }
      : null,
    need: need ? { id: need.id, name: need.name } : null,
    needs: catalogueOf(db()).needs.map((n) => ({ value: n.id, text: n.name })),
    chart: smallChart(planned),
    plan,
    chosen,
    titles: imageTitles([plan], indexOf(db())),
    facts: factLines(factsOf(db(), standing.id)),
    history: historyOf(db(), standing.id, personal),
    changed: changesOfDevice(db(), standing.id).length > 0,
    touched: isTouched(db(), standing.id),
    broken: brokenHardware(currentValue(planned.facts, "hardware.broken") ?? ""),
    stale: accepted.stale,
    copies: identityCopies(db(), standing.id),
    isBoard: planned.model?.flash === "loader",
    cleaned: packagesSeen(db(), standing.id).length > 0,
    running: accepted.run !== null && accepted.run.done > 0,
    outcome,
    told: toldOf(plan, outcome),
    further: !goesNoFurther(outcome),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request);
  const result = actOnDevice(db(), request, params.tag, form);
  if (result.ok) return leadOn(result.gone ? "/intake" : `/devices/${params.tag}${result.anchor}`);
  return data(result, { status: 400 });
}

export default function Device({ loaderData, actionData }: Route.ComponentProps) {
  const may = useMay();
  const {
    standing,
    register,
    who,
    returns,
    whole,
    personal,
    imeiSays,
    listed,
    model,
    need,
    needs,
    chart,
    plan,
    chosen,
    titles,
    facts,
    history,
    changed,
    touched,
    broken,
    stale,
    copies,
    isBoard,
    cleaned,
    running,
    outcome,
    told,
    further,
  } = loaderData;
  const clearance = CLEARANCE_STATES[standing.clearance];
  const way = chosen ?? plan.best;
  return (
    <>
      <title>{`${standing.tag} · Upshift Lane`}</title>
      <div className="flex flex-wrap items-center gap-3">
        <h1>{standing.tag}</h1>
        <VerdictMark verdict={told.verdict} />
        <span>{model ? <Link to={`/models/${model.id}`}>{model.title}</Link> : "model not known"}</span>
        <span className="hint">for {need ? <Link to={`/floors/${need.id}`}>{need.name}</Link> : "no need chosen"}</span>
      </div>
      <p className="mt-1 font-semibold">{told.says}</p>
      <p className="mt-1 flex flex-wrap items-center gap-3 text-sm">
        {returns && (
          <span>
            It was here before, as <Link to={`/devices/${returns}`}>{returns}</Link>
          </span>
        )}
        <Link to={`/devices/${standing.tag}/room`}>Room for images</Link>
        <Link to={`/devices/${standing.tag}/packages`}>{cleaned ? "Packages that were taken away" : "Packages"}</Link>
        <Link to={`/files?device=${standing.tag}`}>Files for it</Link>
        <Link to={`/labels?tags=${standing.tag}&sheet=single`}>Label</Link>
        <Link to={`/aside?tag=${standing.tag}`} className="text-stop">
          {standing.aside ? "Set aside: what to do" : "Swollen, hot, wet, broken glass?"}
        </Link>
      </p>
      {stale && <StaleWay tag={standing.tag} stale={stale} running={running} />}
      {imeiSays && <Notice kind="wrong">IMEI: {imeiSays}. Correct it under Details.</Notice>}
      {actionData && !actionData.ok && <Notice kind="wrong">{actionData.says}</Notice>}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="space-y-5">
          {who && <WhoIsIt tag={standing.tag} who={who} />}
          <section className="sheet" aria-labelledby="way">
            <h2 id="way">
              {chosen
                ? "Accepted way"
                : further
                  ? plan.best
                    ? "Proposed way"
                    : "No way yet"
                  : plan.best
                    ? "What was proposed"
                    : "No way"}
            </h2>
            <UpshiftChart compact {...chart} />
            {way && (
              <p>
                <strong>{wayTitle(way, titles)}</strong>: {minutesText(way.handsOnMinutes)} hands-on,{" "}
                {minutesText(way.unattendedMinutes)} unattended
                {way.waitingDays ? `, ${way.waitingDays} days of waiting` : ""}.
              </p>
            )}
            {plan.questions.length > 0 && (
              <div className="mt-2">
                <h3>Open questions</h3>
                <QuestionList questions={plan.questions} tag={standing.tag} model={model?.id ?? null} />
              </div>
            )}
            {further && (
              <p className="mt-3 flex flex-wrap gap-2">
                {plan.ways.length > 0 && (
                  <Link to={`/devices/${standing.tag}/ways`} className={chosen ? "btn" : "btn-main"}>
                    {chosen ? "Look at the ways again" : "Compare and decide"}
                  </Link>
                )}
                {chosen && (
                  <Link to={`/bench/${standing.tag}`} className="btn-main">
                    To the bench
                  </Link>
                )}
                {way && outcome === "open" && (
                  <>
                    <Link to={`/devices/${standing.tag}/runbook.md`} reloadDocument className="btn">
                      Sheet
                    </Link>
                    <Link to={`/devices/${standing.tag}/runbook.sh`} reloadDocument className="btn">
                      Script
                    </Link>
                    <Link to={`/devices/${standing.tag}/runbook.json`} reloadDocument className="btn">
                      JSON
                    </Link>
                  </>
                )}
              </p>
            )}
            <details className="mt-3">
              <summary className="cursor-pointer font-semibold">
                Images not reached, and why ({plan.stops.length})
              </summary>
              <Scroll label="Images not reached" className="mt-2">
                <StopList stops={plan.stops} titles={titles} />
              </Scroll>
            </details>
          </section>
          <section className="sheet" aria-labelledby="facts">
            <h2 id="facts">What is known</h2>
            <FactTable facts={facts} />
            {model && <HardwareForm key={broken.join()} has={model.hardware} broken={broken} />}
            <FactForm
              key={`f${facts.length}`}
              kept={actionData && !actionData.ok && actionData.form === "fact" ? actionData.kept : null}
            />
          </section>
        </div>
        <div className="space-y-5">
          <section className="sheet" aria-labelledby="clearance">
            <h2 id="clearance">Clearance</h2>
            <p>
              <strong>{clearance.says}.</strong> {clearance.means}.
            </p>
            <p className="mt-1 text-sm">
              Register of lost devices:{" "}
              {register === null ? (
                <strong>not checked yet</strong>
              ) : register.state === "clear" ? (
                <>not reported on {dateText(register.at)}</>
              ) : register.state === "hit" ? (
                <strong className="text-stop">{register.says}</strong>
              ) : (
                <>
                  <strong>not checked yet</strong> ({register.says || "waits"})
                </>
              )}{" "}
              {may("GET", "/register") && <Link to="/register">register</Link>}
            </p>
            <Link to={`/clearance/${standing.tag}`} className="btn mt-2">
              Look at the case
            </Link>
          </section>
          {may("POST") && (
            <section className="sheet" aria-labelledby="readout">
              <h2 id="readout">Paste a read-out</h2>
              <ReadOutForm
                kept={actionData && !actionData.ok && actionData.form === "read-out" ? actionData.kept.text : ""}
              />
            </section>
          )}
          <section className="sheet" aria-labelledby="details">
            <h2 id="details">Details</h2>
            <dl className="my-2 grid grid-cols-[auto_1fr] gap-x-3 text-sm">
              <dt className="text-soft">Serial number</dt>
              <dd className="font-mono">{standing.serial ?? "—"}</dd>
              <dt className="text-soft">IMEI</dt>
              <dd className="font-mono">{standing.imei ?? "—"}</dd>
            </dl>
            {listed && (
              <p className="mb-2 text-sm text-soft">
                The list it came with (line {listed.line}) has <span className="font-mono">{listed.text}</span> for the
                IMEI.
                {listed.says && ` ${listed.says}.`} It counts for nothing.
              </p>
            )}
            {personal && !whole && (standing.serial || standing.imei || listed) && (
              <Form method="get" className="mb-2">
                <button type="submit" name="numbers" value="whole" className="btn text-sm">
                  Show whole numbers
                </button>
              </Form>
            )}
            {personal && (
              <DetailsForm
                standing={standing}
                needs={needs}
                whole={whole}
                kept={actionData && !actionData.ok && actionData.form === "details" ? actionData.kept : null}
              />
            )}
            <Form method="post" className="mt-2 flex flex-wrap gap-2" preventScrollReset>
              {changed && (
                <button type="submit" name="form" value="undo-details" className="btn text-sm">
                  Undo the last change of details
                </button>
              )}
              {!touched && (
                <button type="submit" name="form" value="withdraw" className="btn text-sm">
                  Taken in by mistake: withdraw it
                </button>
              )}
            </Form>
          </section>
          {copies.length > 0 && (
            <IdentityCopies
              tag={standing.tag}
              copies={copies}
              serialKnown={standing.serial !== null}
              isBoard={isBoard}
            />
          )}
          {outcome !== "handed-over" && outcome !== "set-aside" && (standing.ended || may("POST")) && (
            <section className="sheet" aria-labelledby="ends">
              <h2 id="ends">Not this way</h2>
              <EndDevice
                ended={standing.ended}
                kept={actionData && !actionData.ok && actionData.form === "end" ? actionData.kept : null}
              />
            </section>
          )}
          <section className="sheet" aria-labelledby="history">
            <h2 id="history">History</h2>
            <ol className="mt-2 space-y-2">
              {history.map((h, i) => (
                <li key={i} className="text-sm">
                  {h.says}
                  <span className="hint block">
                    {timeText(h.at)}
                    {h.by && `, ${h.by}`}
                  </span>
                  {h.undo && (
                    <Form method="post" preventScrollReset>
                      <input type="hidden" name="form" value="undo-facts" />
                      <input type="hidden" name="at" value={h.at} />
                      <input type="hidden" name="by" value={h.by} />
                      <button type="submit" name="source" value={h.undo} className="btn px-2 py-0 text-xs">
                        Take back<span className="sr-only">: {h.says}</span>
                      </button>
                    </Form>
                  )}
                </li>
              ))}
            </ol>
          </section>
        </div>
      </div>
    </>
  );
}
