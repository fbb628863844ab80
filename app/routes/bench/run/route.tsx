import { data } from "react-router";
import { acceptedOf } from "~/app/server/bench/accepted";
import { actAtBench } from "~/app/server/bench/actAtBench";
import { goBackTo } from "~/app/server/bench/goBackTo";
import { handAt } from "~/app/server/bench/handAt";
import { readCopies } from "~/app/server/bench/readCopies";
import { runbookOf } from "~/app/server/bench/runbooks";
import { takeReport } from "~/app/server/bench/takeReport";
import { aheadOf, now } from "~/app/server/http/clock";
import { db, notFound, personOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { housePolicy } from "~/app/server/planning/housePolicy";
import { smallChart } from "~/app/server/planning/smallChart";
import { handTonight, whoseTonight } from "~/app/server/timetable/handTonight";
import { tonightFor } from "~/app/server/timetable/tonight";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { StaleWay } from "~/app/ui/StaleWay";
import { TonightStrip } from "~/app/ui/TonightStrip";
import { UpshiftChart } from "~/app/ui/UpshiftChart";
import { countText, timeText } from "~/app/ui/words";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { contextOfStep } from "~/core/flashlog/context";
import { readLog } from "~/core/flashlog/readLog";
import { hostWords } from "~/core/lane/bench";
import type { InHand } from "~/core/lane/inHand";
import { MAX_REPORT } from "~/core/runbook/report";
import { commandText, insteadTexts } from "~/core/runbook/writeSheet";
import { benchOfRun, lastBenchOf, openBenches } from "~/store/benches";
import { findStanding } from "~/store/devices";
import { positionOf, stepsOf } from "~/store/runs";
import type { Route } from "./+types/route";
import { BeforeRun } from "./BeforeRun";
import { DoneSteps } from "./DoneSteps";
import { EndRun } from "./EndRun";
import { lastWords, tracesOf } from "./queries";
import { ReportDrop } from "./ReportDrop";
import { StepCard } from "./StepCard";
import { StepRail } from "./StepRail";
import { TroubleSteps } from "./Trouble";
import { troubleAt } from "./trouble";

export function loader({ params, request }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const { planned, way, run, stale } = acceptedOf(db(), standing);
  const sheet = runbookOf(db(), standing.tag);
  const runbook = sheet.ok ? sheet.runbook : null;
  const written = run ? stepsOf(db(), run.run) : [];
  const position = run ? positionOf(written, run.steps) : null;
  const step = runbook && position && !position.finished ? runbook.steps[position.place] : null;
  const clearance = CLEARANCE_STATES[standing.clearance];
  const words = run && position?.wrong ? lastWords(db(), run.run, position.place) : "";
  const asked = new URL(request.url).searchParams;
  const tonight = whoseTonight(request);
  return {
    dark: asked.has("dark"),
    tonight: tonight === null ? null : tonightFor(db(), tonight, personOf(request), now(db())),
    chart: smallChart(planned),
    tag: standing.tag,
    gate: clearance.opensGate ? null : clearance.says,
    release: way?.release ?? null,
    title: runbook?.modelTitle ?? "",
    sheet: runbook && {
      cautions: runbook.cautions,
      files: runbook.files,
      wayBack: runbook.wayBack,
      backFiles: runbook.backFiles,
      count: runbook.steps.length,
    },
    problem: sheet.ok || sheet.code === "stale" ? null : sheet.says,
    stale,
    running: run !== null && run.done > 0,
    // Somebody else's: two people at one device is how a step is done twice.
    hand: run && otherHand(handAt(db(), run, now(db()).toISOString(), written), handTonight(request).by),
    begun: run !== null,
    benches: run ? [] : openBenches(db()).map((b) => ({ id: b.id, name: b.name, host: hostWords(b.host) })),
    bench: run ? (benchOfRun(db(), run.run)?.name ?? null) : lastBenchOf(db(), personOf(request)),
    position,
    ran: position?.begunAt ? (now(db()).getTime() - Date.parse(position.begunAt)) / 1000 : null,
    step: step ? { ...step, command: commandText(step), instead: insteadTexts(step) } : null,
    words,
    trouble: troubleAt(
      planned,
      runbook,
      step && position ? position.place : null,
      housePolicy(db()),
      asked.get("seen"),
    ),
    /** What the client's last words mean, in this step. */
    meaning: words && runbook && position ? readLog(words, contextOfStep(runbook, position.place)) : null,
    titles: runbook?.steps.map((s) => s.title) ?? [],
    traces: run && runbook ? tracesOf(db(), run.run, runbook.steps) : [],
  };
}

/** What stays in the address from step to step: how it looks, and for whose evening. */
function keptOf(asked: URLSearchParams): string {
  const kept = new URLSearchParams();
  for (const name of ["dark", "tonight"]) if (asked.has(name)) kept.set(name, asked.get(name) ?? "");
  return kept.size > 0 ? `?${kept}` : "";
}

const otherHand = (hand: InHand | null, me: string) => (hand && hand.by !== me ? hand : null);

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request, { most: MAX_REPORT * 1.5 });
  const note = String(form.get("note") ?? "");
  const act = String(form.get("act") ?? "");
  const here = `/bench/${params.tag}${keptOf(new URL(request.url).searchParams)}`;
  const refuse = (says: string, status = 409) => data({ says, note, act, told: null }, { status });
  if (act === "report") {
    const file = form.get("report");
    if (!(file instanceof File) || file.size === 0) return refuse("Choose the report file that the script wrote", 400);
    const answer = takeReport(db(), params.tag, await file.text(), aheadOf(db()));
    if (!answer.ok) return refuse(answer.says, answer.status);
    const stands = answer.steps ? `${answer.done} of ${answer.steps} steps are done` : "no run was begun by them";
    const told = `${countText(answer.taken, "new line")} taken in; ${stands}.`;
    return data({ says: answer.refused.join(". "), note: "", act, told });
  }
  const copies = readCopies(form);
  if (typeof copies === "string") return refuse(copies, 400);
  const hand = handTonight(request);
  if (act === "back-to") {
    const wrong = goBackTo(db(), params.tag, Number(form.get("place")), Number(form.get("to")), hand);
    return wrong ? refuse(wrong) : leadOn(here);
  }
  const asked = {
    act,
    place: Number(form.get("place") ?? 0),
    note,
    yes: form.get("yes") === "yes",
    end: String(form.get("end") ?? ""),
    copies,
    packages: String(form.get("packages") ?? ""),
    bench: form.get("bench") ? Number(form.get("bench")) : null,
  };
  const wrong = actAtBench(db(), params.tag, asked, hand);
  if (wrong) return refuse(wrong);
  if (act !== "end") return leadOn(here);
  const who = whoseTonight(request);
  return leadOn(who === null ? `/devices/${params.tag}` : `/tonight?${new URLSearchParams({ who })}`);
}

export default function BenchRun({ loaderData, actionData }: Route.ComponentProps) {
  const { dark, tonight, chart, tag, gate, release, title, sheet, problem, stale, running, begun, position, step } =
    loaderData;
  const count = sheet?.count ?? 0;
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
        <Link
          to={`?${new URLSearchParams({ ...(dark ? {} : { dark: "" }), ...(tonight ? { tonight: tonight.who } : {}) })}`}
        >
          {dark ? "light" : "dark"}
        </Link>
      </p>
      {tonight && <TonightStrip tonight={tonight} tag={tag} />}
      <h1>
        <span className="text-4xl">{tag}</span>{" "}
        <span className="font-normal text-soft">
          {title} {release ? `to Android ${release}` : ""}
          {begun && loaderData.bench ? `, ${loaderData.bench}` : ""}
        </span>
      </h1>
      {gate && (
        <Notice kind="wrong">
          Stop. Clearance: {gate.toLowerCase()}. Put the device aside and{" "}
          <Link to={`/clearance/${tag}`}>settle the account lock</Link> first.
        </Notice>
      )}
      {loaderData.hand && (
        <Notice kind="caution">
          {loaderData.hand.by} has this device in hand, since {timeText(loaderData.hand.since)}. Ask before you go on
          with it.
        </Notice>
      )}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {actionData?.told && <Notice kind="done">{actionData.told}</Notice>}
      {!gate && stale && <StaleWay tag={tag} stale={stale} running={running} />}
      {!gate && problem && <Notice kind="wrong">{problem}</Notice>}
      {!gate && !release && !problem && (
        <p className="sheet my-3">
          No way is accepted for this device. <Link to={`/devices/${tag}/ways`}>Compare its ways and decide</Link>.
        </p>
      )}
      {!gate && release && !begun && sheet && (
        <BeforeRun {...sheet} benches={loaderData.benches} last={loaderData.bench}>
          <UpshiftChart compact {...chart} />
        </BeforeRun>
      )}
      {!gate && position?.finished && (
        <section className="sheet my-4 max-w-3xl" aria-label="Finished">
          <Notice kind="done">All {count} steps are done.</Notice>
          <p className="mt-2 flex gap-2">
            <Link
              to={`/checkout/${tag}${tonight ? `?${new URLSearchParams({ tonight: tonight.who })}` : ""}`}
              className="btn-main text-lg"
            >
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
            pick={loaderData.trouble.pick}
            picked={loaderData.trouble.shown?.seen ?? null}
            help={
              loaderData.trouble.shown && <TroubleSteps trouble={loaderData.trouble.shown} place={position.place} />
            }
            step={step}
            place={position.place}
            count={count}
            ran={loaderData.ran}
            wrong={position.wrong}
            words={loaderData.words}
            meaning={loaderData.meaning}
            tag={tag}
            note={actionData?.act === "end" ? undefined : actionData?.note}
            key={`${position.place}${position.wrong ?? ""}`}
          />
          <StepRail titles={loaderData.titles} place={position.place} />
        </div>
      )}
      {!gate && begun && position && !position.finished && (
        <EndRun
          place={position.place}
          note={actionData?.act === "end" ? actionData.note : undefined}
          open={(stale !== null && running) || position.wrong !== null || actionData?.act === "end"}
        />
      )}
      <DoneSteps traces={loaderData.traces} />
      {!gate && release && (sheet || begun) && !position?.finished && <ReportDrop tag={tag} />}
    </div>
  );
}
