import { data } from "react-router";
import { db, handOf } from "~/app/server/http/context";
import { dbFile } from "~/app/server/http/dbFile";
import { readFormWithin } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { patienceFor, startIntake, waitShortly } from "~/app/server/jobs/jobs";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { dateText } from "~/app/ui/words";
import { MAX_LIST_BYTES } from "~/core/lists/limits";
import { knownList, searchKnown } from "~/store/known";
import type { Route } from "./+types/route";

const SHOWN = 50;

export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const q = (query.get("q") ?? "").trim().slice(0, 100);
  return {
    q,
    taken: Number(query.get("taken") ?? 0),
    list: knownList(db()),
    found: q === "" ? null : searchKnown(db(), q, SHOWN),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readFormWithin(request, { most: MAX_LIST_BYTES * 1.1 });
  if (!form)
    return data({ says: `The file is larger than ${MAX_LIST_BYTES / 1e6} MB. Nothing was changed` }, { status: 413 });
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0) return data({ says: "Choose a file first" }, { status: 400 });
  const bytes = new Uint8Array(await file.arrayBuffer());
  const job = startIntake({ what: "known", db: dbFile(), bytes, file: file.name.slice(0, 120), hand: handOf(request) });
  await waitShortly(job, patienceFor(file.size));
  if (job.state === "running") return leadOn(`/intake/jobs/${job.id}`);
  return job.state === "done" ? leadOn(`/known?taken=${job.devices}`) : data({ says: job.says }, { status: 400 });
}

export default function Known({ loaderData, actionData }: Route.ComponentProps) {
  const { q, taken, list, found } = loaderData;
  return (
    <>
      <title>Supported devices · Upshift Lane</title>
      <h1>Supported devices</h1>
      <p className="hint my-2 max-w-3xl">
        Your own list of devices that the platform's maker certifies, as CSV with the columns brand, name, device and
        model. It tells which code name stands behind a model number, and who sells the same device under another name.
        None ships with the product.
      </p>
      {taken > 0 && !actionData && (
        <Notice kind="done">{taken.toLocaleString("en")} devices are in the list now.</Notice>
      )}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-2">
        <Form method="get" className="sheet" role="search">
          <label className="label" htmlFor="known-q">
            Look for a model number, code name or name
          </label>
          <div className="flex gap-2">
            <input id="known-q" name="q" type="search" defaultValue={q} className="field" />
            <button type="submit" className="btn-main">
              Look
            </button>
          </div>
        </Form>
        <Form method="post" encType="multipart/form-data" className="sheet">
          <label className="label" htmlFor="known-file">
            {list ? "Replace the list" : "Load a list"}
          </label>
          <div className="flex gap-2">
            <input id="known-file" name="file" type="file" accept=".csv,.txt,text/csv" className="field" />
            <button type="submit" className="btn">
              Load
            </button>
          </div>
          <p className="hint mt-1">
            {list
              ? `${list.rows.toLocaleString("en")} devices out of ${list.file}, ${dateText(list.at)}, ${list.by}`
              : "No list is loaded yet."}
          </p>
        </Form>
      </div>
      {found && found.length === 0 && <p className="sheet mt-4">Nothing in the list has “{q}” in it.</p>}
      {found && found.length > 0 && (
        <Scroll label="Devices found" className="mt-4">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Brand</th>
                <th scope="col">Name</th>
                <th scope="col">Code name</th>
                <th scope="col">Model number</th>
              </tr>
            </thead>
            <tbody>
              {found.map((d, i) => (
                <tr key={i}>
                  <td>{d.brand}</td>
                  <td>{d.name}</td>
                  <td className="font-mono">{d.device}</td>
                  <td className="font-mono">
                    <Link to={`/search?q=${encodeURIComponent(d.model)}`}>{d.model}</Link>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      {found && found.length === SHOWN && <p className="hint">The best {SHOWN} are shown.</p>}
    </>
  );
}
