import { data } from "react-router";
import { acceptedOf } from "~/app/server/bench/accepted";
import { runbookOf } from "~/app/server/bench/runbooks";
import { db, notFound } from "~/app/server/http/context";
import { readFormWithin } from "~/app/server/http/form";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { LogLines, VerdictLine } from "~/app/ui/LogLines";
import { Notice } from "~/app/ui/Notice";
import { TextArea } from "~/app/ui/TextArea";
import { contextOfStep } from "~/core/flashlog/context";
import { NO_CONTEXT } from "~/core/flashlog/pattern";
import { type ReadLog, readLog, VERDICT_WORDS } from "~/core/flashlog/readLog";
import { isFinishedRun } from "~/core/lane/station";
import { operationWords } from "~/core/ways/registry";
import { findStanding } from "~/store/devices";
import { positionOf, stepsOf } from "~/store/runs";
import type { Route } from "./+types/route";

/** Largest output that is read at once, bytes. */
const MAX_LOG = 4_000_000;

function benchOf(tag: string) {
  const standing = findStanding(db(), tag);
  if (!standing) throw notFound(`There is no device ${tag}`);
  const sheet = runbookOf(db(), standing.tag);
  // Not simply the newest run: one that was ended has no step open any more.
  const { run } = acceptedOf(db(), standing);
  const position = run && sheet.ok && !isFinishedRun(run) ? positionOf(stepsOf(db(), run.run), run.steps) : null;
  return { standing, runbook: sheet.ok ? sheet.runbook : null, position, done: sheet.ok ? sheet.done : 0 };
}

/** The step the output is of: the one that is asked for, else the one the run stands at. */
function stepOf(bench: ReturnType<typeof benchOf>, asked: string | null): number {
  const place = asked === null || asked === "" ? bench.done : Number(asked) - 1;
  return Number.isInteger(place) && place >= 0 ? place : bench.done;
}

export function loader({ params, request }: Route.LoaderArgs) {
  const bench = benchOf(params.tag);
  const place = stepOf(bench, new URL(request.url).searchParams.get("step"));
  return {
    tag: bench.standing.tag,
    place,
    steps: bench.runbook?.steps.map((s, i) => ({ value: String(i + 1), text: `${i + 1}. ${s.title}` })) ?? [],
    /** Place of the step that is open, which the reading may become the note of. */
    open: bench.position && bench.position.wrong === null ? bench.position.place : null,
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readFormWithin(request, { most: MAX_LOG * 3, long: { text: MAX_LOG * 3 } });
  const file = form?.get("file");
  const pasted = String(form?.get("text") ?? "");
  const refuse = (says: string, status = 400) =>
    data({ says, text: pasted.slice(0, MAX_LOG), read: null, place: 0, during: null }, { status });
  const bench = benchOf(params.tag);
  const place = stepOf(bench, String(form?.get("step") ?? ""));
  const size = file instanceof File ? file.size : 0;
  if (!form || size > MAX_LOG || pasted.length > MAX_LOG)
    return refuse(
      `That is more than ${MAX_LOG / 1_000_000} MB: give the last part of it, where it went wrong (tail -n 2000 FILE)`,
      413,
    );
  const text = file instanceof File && size > 0 ? await file.text() : pasted;
  if (text.trim() === "") return refuse("There is nothing to read: paste what the client, script or recovery said");
  const context = bench.runbook ? contextOfStep(bench.runbook, place) : NO_CONTEXT;
  return data({
    says: "",
    text: pasted,
    read: readLog(text, context),
    place,
    during: context.operation && operationWords(context.operation),
  });
}

/** What a client, script or recovery said, read line by line for the step it was said in. */
export default function BenchLog({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, steps, open } = loaderData;
  const place = actionData?.read ? actionData.place : loaderData.place;
  return (
    <>
      <title>{`What did ${tag} say? · Upshift Lane`}</title>
      <p className="hint">
        <Link to={`/bench/${tag}`}>{tag} at the bench</Link>
      </p>
      <h1>What did it say?</h1>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {actionData?.read && (
        <Reading read={actionData.read} tag={tag} during={actionData.during} place={place} open={open} />
      )}
      <Form method="post" encType="multipart/form-data" className="sheet mt-3 max-w-4xl space-y-3">
        {steps.length > 0 && (
          <label className="block">
            <span className="label">At which step</span>
            <select name="step" defaultValue={String(place + 1)} className="field">
              {steps.map((s) => (
                <option key={s.value} value={s.value}>
                  {s.text}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="block">
          <span className="label">Paste what the client, the script or the recovery said</span>
          <TextArea
            name="text"
            rows={8}
            className="field font-mono text-sm"
            spellCheck={false}
            defaultValue={actionData?.text}
          />
        </label>
        <label className="block">
          <span className="label">Or drop it as a file</span>
          <input type="file" name="file" className="field" />
        </label>
        <button type="submit" className="btn-main">
          Read it
        </button>
      </Form>
    </>
  );
}

function Reading({
  read,
  tag,
  during,
  place,
  open,
}: {
  readonly read: ReadLog;
  readonly tag: string;
  readonly during: string | null;
  readonly place: number;
  readonly open: number | null;
}) {
  const { verdict, because } = read;
  const note = because ? `${because.text} (${because.why})` : VERDICT_WORDS[verdict];
  return (
    <section className="sheet my-3 max-w-4xl" aria-label="The reading">
      <VerdictLine read={read} />
      {during && <p className="hint">Read for the step “{during}”: the same line can mean something else elsewhere.</p>}
      {open === place && verdict !== "not-known" && (
        <Form method="post" action={`/bench/${tag}`} className="mt-2">
          <input type="hidden" name="place" value={place} />
          <input type="hidden" name="note" value={note.slice(0, 900)} />
          {verdict === "stop" || verdict === "do-this" ? (
            <button type="submit" name="act" value="wrong" className="btn-warn">
              Write it down at step {place + 1}, and stop there
            </button>
          ) : (
            verdict === "went-well" && (
              <button type="submit" name="act" value="done" className="btn-main">
                Step {place + 1} is done
              </button>
            )
          )}
        </Form>
      )}
      <LogLines read={read} />
    </section>
  );
}
