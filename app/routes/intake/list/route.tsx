import { data } from "react-router";
import { today } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { dbFile } from "~/app/server/http/dbFile";
import { givenBack, MAX_PASTED, readFormWithin } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { NewBatch, newBatch } from "~/app/server/intake/newBatch";
import { findJob, patienceFor, startIntake, waitShortly } from "~/app/server/jobs/jobs";
import { AreaField, ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { countText, timeText } from "~/app/ui/words";
import { COLUMN_KEYS } from "~/core/lists/columns";
import { columnName } from "~/core/lists/deviceList";
import { MAX_LIST_BYTES, MAX_LIST_ROWS } from "~/core/lists/limits";
import { dropBatch, findBatch, listBatches } from "~/store/devices";
import { listImports } from "~/store/imports";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const batches = listBatches(db());
  const lists = listImports(db());
  const query = new URL(request.url).searchParams;
  const late = findJob(Number(query.get("job")));
  return {
    batches,
    batch: query.get("batch") ?? late?.typed?.batch ?? batches[0]?.id ?? "",
    /** A list that was refused after its progress had been shown. */
    refused: late?.state === "refused" && late.typed ? { ...late.typed, says: late.says } : null,
    lists: lists.map(({ header: _, mapping: __, ...l }) => l),
    sources: [...new Set(lists.map((l) => l.source))],
  };
}

export async function action({ request }: Route.ActionArgs) {
  const empty = { batch: "", title: "", source: "", text: "", says: "" };
  const form = await readFormWithin(request, { most: MAX_LIST_BYTES * 1.1, long: { text: MAX_LIST_BYTES } });
  if (!form)
    return data(
      {
        ...empty,
        says: `The file is larger than ${MAX_LIST_BYTES / 1e6} MB. Split it, or save only the columns that are needed. Nothing was taken in`,
      },
      { status: 413 },
    );
  const batch = String(form.get("batch") ?? "");
  const source = String(form.get("source") ?? "")
    .trim()
    .slice(0, 60);
  const text = String(form.get("text") ?? "");
  const title = String(form.get("title") ?? "").trim();
  // Not sent back with the answer: megabytes in a page's box are of no use to anybody, and the browser still has them.
  if (text.length > MAX_PASTED)
    return data(
      {
        ...{ batch, title, source, text: "" },
        says: `What was pasted has ${(text.length / 1e6).toFixed(1)} MB. Up to ${MAX_PASTED / 1e6} MB can be pasted: save it as a text file and choose that. Nothing was taken in`,
      },
      { status: 413 },
    );
  const mend = givenBack(text);
  const refuse = (says: string) => data({ batch, title, source, text: mend, says }, { status: 400 });
  const begun = batch === "" && title !== "" ? NewBatch.safeParse({ title, received: today(db()), note: "" }) : null;
  if (begun && !begun.success) return refuse(begun.error.issues[0].message);
  const given = form.get("file");
  const file = given instanceof File && given.size > 0 ? given : null;
  if (!file && text.trim() === "")
    return refuse(
      given instanceof File && given.name !== ""
        ? `“${given.name.slice(0, 120)}” is empty. Choose another file, or paste the list`
        : "Choose a file or paste a list",
    );
  const found = findBatch(db(), begun ? newBatch(db(), begun.data) : batch);
  if (!found) return refuse("Choose a batch first, or make one at Intake");
  const job = startIntake(
    {
      what: "read",
      db: dbFile(),
      bytes: file ? new Uint8Array(await file.arrayBuffer()) : new TextEncoder().encode(text),
      file: file?.name.slice(0, 120) ?? "pasted",
      batch: found.id,
      source: source || found.title,
      hand: handOf(request),
    },
    { batch: found.id, source, text: mend },
  );
  await waitShortly(job, patienceFor(file?.size ?? text.length));
  if (job.state === "running") return leadOn(`/intake/jobs/${job.id}`);
  if (job.state === "done") return leadOn(`/intake/lists/${job.list}`);
  // A batch that was made for this list goes with it.
  if (begun) dropBatch(db(), found.id);
  return refuse(job.says);
}

export default function IntakeList({ loaderData, actionData }: Route.ComponentProps) {
  const { batches, lists, sources } = loaderData;
  const kept = actionData ?? loaderData.refused;
  const batch = kept?.batch || loaderData.batch;
  return (
    <>
      <title>Take in a list · Upshift Lane</title>
      <p className="hint">
        <Link to="/intake">Intake</Link>
      </p>
      <h1>Take in a list</h1>
      <p className="hint my-2 max-w-3xl">
        A workbook (.xlsx, .ods) or a text file (comma, semicolon, tab or bar between the cells; UTF-8, UTF-16 or
        Windows-1252), up to {MAX_LIST_ROWS.toLocaleString("en")} rows. One line names the columns, in any order, in
        English, German, French or Spanish; titles above it are passed over. What each column holds is shown, can be
        changed, and is remembered for the next list from the same source. It can hold:{" "}
        {COLUMN_KEYS.map((c) => columnName(c).toLowerCase()).join(", ")}. Nothing is taken in before you have seen it.
      </p>
      {kept?.says && <Notice kind="wrong">{kept.says}</Notice>}
      <Form method="post" encType="multipart/form-data" className="sheet space-y-3">
        <div className="grid grid-cols-[minmax(0,1fr)] gap-3 md:grid-cols-3">
          {batches.length === 0 ? (
            <TextField
              label="Where they come from"
              name="title"
              maxLength={80}
              required
              defaultValue={actionData?.title}
              hint="The first batch is called so"
            />
          ) : (
            <ChoiceField
              label="Batch"
              name="batch"
              key={batch}
              defaultValue={batch}
              options={batches.map((b) => ({ value: b.id, text: b.title }))}
            />
          )}
          <TextField
            label="From which source"
            name="source"
            list="sources"
            key={`s${kept?.source}`}
            defaultValue={kept?.source}
            placeholder="as you call it, e.g. Rivergate school"
          />
          <datalist id="sources">
            {sources.map((s) => (
              <option key={s} value={s} />
            ))}
          </datalist>
          <div>
            <label className="label" htmlFor="file">
              File
            </label>
            <input id="file" name="file" type="file" accept=".xlsx,.ods,.csv,.tsv,.txt,text/csv" className="field" />
          </div>
        </div>
        <AreaField
          label="Or paste the list"
          name="text"
          key={kept?.text || "own"}
          defaultValue={kept?.text}
          rows={6}
          mono
          spellCheck={false}
          placeholder={"tag,model number,android,serial\nTH-101,VK-L8,8.1,VKL8000201"}
        />
        <button type="submit" className="btn-main">
          Look at it first
        </button>
      </Form>
      {lists.length > 0 && (
        <section className="mt-6" aria-labelledby="lists">
          <h2 id="lists">Lists so far</h2>
          <table className="rows mt-1">
            <tbody>
              {lists.map((l) => (
                <tr key={l.id}>
                  <td>
                    <Link to={`/intake/lists/${l.id}`}>{l.source}</Link> <span className="hint">{l.file}</span>
                  </td>
                  <td>
                    {countText(l.taken, "device")} taken in
                    {l.rows > l.taken && `, ${l.rows - l.taken} left`}
                  </td>
                  <td className="hint">
                    {timeText(l.at)}, {l.by}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}
