import { data } from "react-router";
import { db, handOf, notFound } from "~/app/server/http/context";
import { dbFile } from "~/app/server/http/dbFile";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { judgeList } from "~/app/server/intake/takeIn";
import { startIntake, waitShortly } from "~/app/server/jobs/jobs";
import { catalogueOf } from "~/app/server/planning/planning";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { countText } from "~/app/ui/words";
import { shapeOf } from "~/core/lists/cellValue";
import { guessColumns } from "~/core/lists/columns";
import type { CellProblem, DeviceRow } from "~/core/lists/deviceList";
import { StaleEdit } from "~/store/database";
import { findBatch } from "~/store/devices";
import {
  dropImport,
  findImport,
  foundInImport,
  listImports,
  mendImport,
  sourceOfImport,
  undoImport,
} from "~/store/imports";
import type { Route } from "./+types/route";
import { HowRead } from "./HowRead";
import { MappingTable } from "./MappingTable";
import { RowTable } from "./RowTable";
import { doubled, readMended, readReading } from "./read";

/** Rows shown at most: those with problems first. */
const SHOWN = 150;

export function loader({ params, request }: Route.LoaderArgs) {
  const judged = judgeList(db(), Number(params.id));
  if (!judged || judged.list.state === "dropped") throw notFound(`There is no list ${params.id}. Look at Intake`);
  const { list, raw, good, bad, left } = judged;
  const cells = new Map(raw.map((r) => [r.line, r.cells]));
  const { needs } = catalogueOf(db());
  const withCells = (row: DeviceRow) => ({ ...row, cells: cells.get(row.line) ?? [] });
  const query = new URL(request.url).searchParams;
  return {
    list,
    batch: findBatch(db(), list.batch)?.title ?? list.batch,
    needs: needs.map((n) => ({ value: n.id, text: n.name })),
    good: good.length,
    bad: bad.length,
    left: left.length,
    taken: listImports(db()).find((l) => l.id === list.id)?.taken ?? 0,
    justTaken: Number(query.get("taken") ?? 0),
    undone: Number(query.get("undone") ?? 0),
    found: foundInImport(db(), list.id) ?? null,
    looksLike: guessColumns(list.header, raw.slice(0, 60), new Map()).map((g, i) =>
      g.by === "content" && list.mapping[i] === null ? g.column : null,
    ),
    numbers: {
      mended: counted([...good, ...bad], "mended"),
      digit: counted([...good, ...bad], "check-digit"),
      none: counted([...good, ...bad], "no-identity"),
    },
    asksDays: list.mapping.map((column, i) => shapeOf(column, raw, i).asks === true),
    samples: list.header.map((_, i) =>
      [...new Set(raw.map((r) => (r.cells[i] ?? "").trim()).filter(Boolean))].slice(0, 3),
    ),
    rows: [...bad, ...good.filter((r) => r.remarks.length > 0), ...left, ...good.filter((r) => r.remarks.length === 0)]
      .slice(0, SHOWN)
      .map(withCells),
  };
}

const counted = (rows: readonly DeviceRow[], kind: CellProblem["kind"]) =>
  rows.filter((r) => r.remarks.some((m) => m.kind === kind)).length;

export async function action({ request, params }: Route.ActionArgs) {
  const id = Number(params.id);
  const list = findImport(db(), id);
  if (!list || list.state === "dropped") throw notFound(`There is no list ${params.id}. Look at Intake`);
  const form = await readForm(request);
  const refuse = (says: string, status = 400) => data({ says }, { status });
  const wish = form.get("do");
  if (wish === "undo") {
    const undone = undoImport(db(), id, handOf(request));
    return typeof undone === "string" ? refuse(undone, 409) : leadOn(`/intake/lists/${id}?undone=${undone}`);
  }
  if (wish === "drop") {
    dropImport(db(), id);
    return leadOn("/intake/list");
  }
  if (wish === "reread") {
    const bytes = sourceOfImport(db(), id);
    if (!bytes) return refuse("This list was taken in already: it can't be read anew", 409);
    if (Number(form.get("version")) !== list.version) return refuse(new StaleEdit("This list").message, 409);
    const reading = readReading(form);
    if (typeof reading === "string") return refuse(reading);
    const { batch, source, file } = list;
    const again = startIntake({
      what: "read",
      db: dbFile(),
      bytes,
      file,
      batch,
      source,
      reading,
      hand: handOf(request),
    });
    await waitShortly(again, 60_000);
    if (again.state !== "done") return refuse(again.says || "It takes long. Look at Intake in a moment", 409);
    dropImport(db(), id);
    return leadOn(`/intake/lists/${again.list}`);
  }
  const mended = readMended(form, list);
  const twice = doubled(mended.mapping, list.header);
  if (twice) return refuse(twice);
  try {
    mendImport(db(), id, mended);
  } catch (error) {
    if (error instanceof StaleEdit) return refuse(error.message, 409);
    throw error;
  }
  if (wish !== "take") return leadOn(`/intake/lists/${id}`);
  const job = startIntake({ what: "take", db: dbFile(), list: id, hand: handOf(request) });
  await waitShortly(job);
  if (job.state === "running") return leadOn(`/intake/jobs/${job.id}`);
  return job.state === "done" ? leadOn(`/intake/lists/${id}?taken=${job.devices}`) : refuse(job.says, 409);
}

export default function IntakeDraft({ loaderData, actionData }: Route.ComponentProps) {
  const { list, batch, good, bad, left, taken, justTaken, undone, samples, rows, found, looksLike, numbers } =
    loaderData;
  const all = good + bad;
  const numbered = !list.mapping.includes("tag");
  return (
    <>
      <title>{`List from ${list.source} · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/intake">Intake</Link> · <Link to="/intake/list">Take in a list</Link>
      </p>
      <h1>
        {list.source} <span className="font-normal text-soft">{list.file}</span>
      </h1>
      <p className="hint">
        For the batch {batch}.{taken > 0 && ` ${countText(taken, "device")} of it are in the lane.`}
      </p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {justTaken > 0 && (
        <Notice kind="done">
          {countText(justTaken, "device")} taken in.{" "}
          <Link to={`/match?batch=${list.batch}`}>See what they can become</Link>, or{" "}
          <Link to={`/labels?list=${list.id}`}>print their labels</Link>.
          {all > 0 && " The rows below are left: mend them and look again."}
        </Notice>
      )}
      {undone > 0 && (
        <Notice kind="done">Undone: {countText(undone, "device")} withdrawn. The list is as it was before.</Notice>
      )}
      {list.remarks.map((r) => (
        <Notice key={r} kind="caution">
          {r}.
        </Notice>
      ))}
      {numbers.mended + numbers.digit + numbers.none > 0 && (
        <Notice kind="caution">
          IMEIs:{" "}
          {[
            numbers.mended > 0 && `${numbers.mended} mended, as their check digit proves`,
            numbers.digit > 0 && `${numbers.digit} with a wrong check digit`,
            numbers.none > 0 && `${numbers.none} cut short or too long`,
          ]
            .filter(Boolean)
            .join("; ")}
          .{" "}
          {numbers.digit + numbers.none > 0 && (
            <>
              Those count for nothing and go to no register:{" "}
              <a href={`/intake/lists/${list.id}.csv?only=numbers`}>list of them</a>.
            </>
          )}
        </Notice>
      )}
      {found && taken === 0 && <HowRead found={found} version={list.version} />}
      {all + left > 0 && (
        <Form method="post" key={list.version} className="mt-3 space-y-4" preventScrollReset>
          <input type="hidden" name="version" value={list.version} />
          <details className="sheet" open={taken === 0 || loaderData.asksDays.some((asks, i) => asks && !list.days[i])}>
            <summary className="cursor-pointer text-lg font-bold">What each column holds</summary>
            <div className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-4">
              {numbered && (
                <TextField
                  label="No column holds tags: give them, beginning with"
                  name="prefix"
                  defaultValue={list.prefix}
                  className="max-w-md"
                />
              )}
              {loaderData.needs.length > 0 && (
                <ChoiceField
                  label="Who waits for them, where a row names nobody"
                  name="need"
                  defaultValue={list.need ?? ""}
                  options={[{ value: "", text: "nobody yet" }, ...loaderData.needs]}
                  className="max-w-md"
                />
              )}
              <MappingTable
                header={list.header}
                mapping={list.mapping}
                samples={samples}
                looksLike={looksLike}
                days={list.days}
                asksDays={loaderData.asksDays}
              />
            </div>
          </details>
          <div className="sticky top-0 z-20 flex flex-wrap items-center gap-2 border-b border-rule bg-paper py-2">
            <h2 className="mr-2">
              {countText(all, "row")}, {bad === 0 ? "all good" : `${bad} to mend`}
              {left > 0 && `, ${left} left out`}
            </h2>
            <button type="submit" name="do" value="look" className={good > 0 && bad === 0 ? "btn" : "btn-main"}>
              Save and look again
            </button>
            {good > 0 && (
              <button type="submit" name="do" value="take" className={bad === 0 ? "btn-main" : "btn"}>
                Take in {countText(good, "good row")}
                {bad > 0 ? `, keep ${bad} to mend` : ""}
              </button>
            )}
            <a href={`/intake/lists/${list.id}.csv`} className="btn">
              What is left as CSV, with whole numbers
            </a>
          </div>
          <RowTable header={list.header} mapping={list.mapping} rows={rows} />
          {all + left > rows.length && (
            <p className="hint">
              {rows.length} rows are shown, those with problems first; all {all + left} were looked at.
            </p>
          )}
        </Form>
      )}
      <Form method="post" className="mt-5 flex flex-wrap gap-2">
        {taken > 0 && (
          <button type="submit" name="do" value="undo" className="btn-warn">
            Undo the import: withdraw {countText(taken, "device")}
          </button>
        )}
        {taken === 0 && (
          <button type="submit" name="do" value="drop" className="btn">
            Drop this list
          </button>
        )}
      </Form>
    </>
  );
}
