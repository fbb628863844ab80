import { data, Form, Link, redirect } from "react-router";
import { actAtBench } from "~/app/server/bench/actAtBench";
import { runbookOf } from "~/app/server/bench/runbooks";
import { now } from "~/app/server/http/clock";
import { db, handOf, notFound } from "~/app/server/http/context";
import { plannedDevice } from "~/app/server/planning/planning";
import { smallChart } from "~/app/server/planning/smallChart";
import { Notice } from "~/app/ui/Notice";
import { UpshiftChart } from "~/app/ui/UpshiftChart";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { Runbook } from "~/core/runbook/step";
import { commandText } from "~/core/runbook/writeSheet";
import { checkoutEnd } from "~/store/checkouts";
import { acceptedWay, findStanding } from "~/store/devices";
import { findRun, positionOf, stepsOf } from "~/store/runs";
import type { Route } from "./+types/route";
import { StepCard } from "./StepCard";
import { StepRail } from "./StepRail";

export function loader({ params, request }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const way = acceptedWay(standing);
  const found = findRun(db(), standing.id);
  const run =
    found && found.decision === standing.decision && checkoutEnd(db(), found.id)?.result !== "back" ? found : null;
  const runbook = run ? (JSON.parse(run.runbook) as Runbook) : null;
  const position = run ? positionOf(stepsOf(db(), run.id), run.steps) : null;
  const sheet = runbook ? null : runbookOf(db(), standing.tag);
  const step = runbook && position && !position.finished ? runbook.steps[position.place] : null;
  return {
    dark: new URL(request.url).searchParams.has("dark"),
    chart: smallChart(plannedDevice(db(), standing)),
    tag: standing.tag,
    gate: CLEARANCE_STATES[standing.clearance].opensGate ? null : CLEARANCE_STATES[standing.clearance].says,
    release: way?.release ?? null,
    title: runbook?.modelTitle ?? (sheet?.ok ? sheet.runbook.modelTitle : ""),
    cautions: runbook?.cautions ?? (sheet?.ok ? sheet.runbook.cautions : []),
    files: runbook?.files ?? (sheet?.ok ? sheet.runbook.files : []),
    count: runbook?.steps.length ?? (sheet?.ok ? sheet.runbook.steps.length : 0),
    problem: sheet && !sheet.ok ? sheet.says : null,
    begun: run !== null,
    position,
    ran: position?.begunAt ? (now(db()).getTime() - Date.parse(position.begunAt)) / 1000 : null,
    step: step ? { ...step, command: commandText(step) } : null,
    titles: runbook?.steps.map((s) => s.title) ?? [],
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await request.formData();
  const note = String(form.get("note") ?? "");
  const asked = {
    act: String(form.get("act") ?? ""),
    place: Number(form.get("place") ?? 0),
    note,
    yes: form.get("yes") === "yes",
  };
  const wrong = actAtBench(db(), params.tag, asked, handOf(request));
  return wrong
    ? data({ says: wrong, note }, { status: 409 })
    : redirect(`/bench/${params.tag}${new URL(request.url).searchParams.has("dark") ? "?dark" : ""}`);
}

export default function BenchRun({ loaderData, actionData }: Route.ComponentProps) {
  const {
    dark,
    chart,
    tag,
    gate,
    release,
    title,
    cautions,
    files,
    count,
    problem,
    begun,
    position,
    ran,
    step,
    titles,
  } = loaderData;
  return (
    <div
      className={
        dark
          ? "bench-dark -m-4 min-h-screen p-4 min-[800px]:-mx-7 min-[800px]:-my-5 min-[800px]:px-7 min-[800px]:py-5"
          : undefined
      }
    >
      <title>{`${tag} at the bench · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/bench">Bench</Link> · <Link to={`/devices/${tag}`}>all about this device</Link> ·{" "}
        <a href={`/devices/${tag}/runbook.md`}>sheet</a> · <a href={`/devices/${tag}/runbook.sh`}>script</a> ·{" "}
        <Link to={dark ? "?" : "?dark"}>{dark ? "light" : "dark"}</Link>
      </p>
      <h1>
        <span className="text-4xl">{tag}</span>{" "}
        <span className="font-normal text-soft">
          {title} {release ? `to Android ${release}` : ""}
        </span>
      </h1>
      {gate && (
        <Notice kind="wrong">
          Stop. Clearance: {gate.toLowerCase()}. Put the device aside and{" "}
          <Link to={`/clearance/${tag}`}>settle the account lock</Link> first.
        </Notice>
      )}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {!gate && problem && <Notice kind="wrong">{problem}</Notice>}
      {!gate && !release && (
        <p className="sheet my-3">
          No way is accepted for this device. <Link to={`/devices/${tag}/ways`}>Compare its ways and decide</Link>.
        </p>
      )}
      {!gate && release && !begun && !problem && (
        <section className="sheet my-4 max-w-3xl" aria-labelledby="before">
          <UpshiftChart compact {...chart} />
          <h2 id="before">Before you begin</h2>
          <ul className="my-2 list-disc space-y-1 pl-5">
            {cautions.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          {files.length > 0 && (
            <>
              <h3>Files that must be at hand</h3>
              <ul className="my-1 list-disc pl-5 font-mono text-sm">
                {files.map((f) => (
                  <li key={f.image + f.name}>
                    {f.image}/{f.name}
                  </li>
                ))}
              </ul>
            </>
          )}
          <Form method="post" className="mt-3">
            <button type="submit" name="act" value="begin" className="btn-main text-lg">
              Begin: {count} steps
            </button>
          </Form>
        </section>
      )}
      {!gate && position?.finished && (
        <section className="sheet my-4 max-w-3xl" aria-label="Finished">
          <Notice kind="done">All {count} steps are done.</Notice>
          <p className="mt-2 flex gap-2">
            <Link to={`/checkout/${tag}`} className="btn-main text-lg">
              Go on to Checkout
            </Link>
          </p>
          <Form method="post" className="mt-3">
            <input type="hidden" name="place" value={position.place - 1} />
            <button type="submit" name="act" value="undone" className="btn">
              Back to the last step
            </button>
          </Form>
        </section>
      )}
      {!gate && step && position && (
        <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[minmax(0,1fr)_17rem]">
          <StepCard
            step={step}
            place={position.place}
            count={count}
            ran={ran}
            wrong={position.wrong}
            note={actionData?.note}
            key={`${position.place}${position.wrong ?? ""}`}
          />
          <StepRail titles={titles} place={position.place} />
        </div>
      )}
    </div>
  );
}
