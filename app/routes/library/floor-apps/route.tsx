import { wrap } from "comlink";
import { useRef, useState } from "react";
import { useDropzone } from "react-dropzone";
import { data, useSubmit } from "react-router";
import { changeApps } from "~/app/server/catalogue/changeApps";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { catalogueOf } from "~/app/server/planning/planning";
import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import type { FileBench } from "~/app/workers/files";
import { describeRelease } from "~/core/android/releases";
import { asClause } from "~/core/catalogue/clause";
import { HARDWARE_WORDS } from "~/core/catalogue/common";
import { floorOf } from "~/core/catalogue/need";
import type { ApkContent } from "~/core/files/report";
import { entryVersion } from "~/store/catalogue";
import type { Route } from "./+types/route";

function needOf(id: string) {
  const need = catalogueOf(db()).needs.find((n) => n.id === id);
  if (!need) throw notFound(`There is no need ${id}`);
  return need;
}

export function loader({ params }: Route.LoaderArgs) {
  const need = needOf(params.id);
  return { need, floor: floorOf(need), version: entryVersion(db(), "need", need.id) };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request);
  const answer = changeApps(db(), needOf(params.id), form, handOf(request));
  const kept = Object.fromEntries([...form].map(([k, v]) => [k, String(v)])) as Record<string, string>;
  return data(
    { ...answer, kept: answer.ok && answer.problems.length === 0 ? {} : kept },
    { status: answer.ok ? 200 : 400 },
  );
}

export default function FloorApps({ loaderData, actionData }: Route.ComponentProps) {
  const { need, floor, version } = loaderData;
  const kept: Record<string, string> = actionData?.kept ?? {};
  return (
    <>
      <title>{`Apps of ${need.name} · Upshift Lane`}</title>
      <p className="hint">
        <Link to={`/floors/${need.id}`}>{need.name}</Link>
      </p>
      <h1>Apps of {need.name}</h1>
      <p className="my-2 text-lg">
        Floor: <strong>{describeRelease(floor.api)}</strong>, set by {floor.setBy.join(" and ")}.
      </p>
      {actionData && (
        <Notice kind={actionData.ok ? "done" : "wrong"}>
          {actionData.says}.
          {actionData.problems.length > 0 && (
            <ul className="list-disc pl-5">
              {actionData.problems.map((p) => (
                <li key={p.line}>
                  Line {p.line}: {p.says}
                </li>
              ))}
            </ul>
          )}
        </Notice>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[3fr_2fr]">
        <section className="sheet self-start" aria-labelledby="apps">
          <h2 id="apps">{need.apps.length} apps</h2>
          <Scroll label="Apps">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">App</th>
                  <th scope="col">Lowest release</th>
                  <th scope="col">Asks for</th>
                  <th scope="col">
                    <span className="sr-only">Take out</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {[...need.apps]
                  .sort((a, b) => b.minApi - a.minApi)
                  .map((a) => (
                    <tr key={a.name}>
                      <td>
                        <strong>{a.name}</strong>
                        {a.package && <code className="block text-xs text-soft">{a.package}</code>}
                      </td>
                      <td>{describeRelease(a.minApi)}</td>
                      <td className="text-sm">
                        {[
                          a.services && (a.package ? "services package (guessed)" : "services package"),
                          a.integrity && "integrity verdict",
                          a.only64 && "64-bit",
                          a.abis.length > 0 && a.abis.join(", "),
                          ...a.hardware.map((h) => asClause(HARDWARE_WORDS[h])),
                        ]
                          .filter(Boolean)
                          .join(", ") || "nothing more"}
                      </td>
                      <td className="n">
                        <Form method="post" preventScrollReset>
                          <input type="hidden" name="version" value={version} />
                          <button type="submit" name="drop" value={a.name} className="btn px-2 py-0.5 text-sm">
                            Take out<span className="sr-only"> {a.name}</span>
                          </button>
                        </Form>
                      </td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </Scroll>
          <p className="hint mt-2">A wrong change is taken back on the page of the need, under History.</p>
        </section>
        <div className="space-y-5">
          <Packages version={version} />
          <Form method="post" className="sheet space-y-2" preventScrollReset aria-labelledby="typed">
            <h2 id="typed">Type one</h2>
            <input type="hidden" name="version" value={version} />
            <div className="grid grid-cols-2 gap-3">
              <TextField label="App" name="name" defaultValue={kept.name} key={`n${version}`} />
              <TextField
                label="Lowest release"
                placeholder="8.0 or API 26"
                name="lowest"
                defaultValue={kept.lowest}
                key={`l${version}`}
              />
            </div>
            <div className="flex flex-wrap gap-4">
              {[
                ["services", "Needs the services package"],
                ["integrity", "Needs an integrity verdict"],
                ["only64", "64-bit only"],
              ].map(([name, label]) => (
                <label key={name}>
                  <input type="checkbox" name={name} value="yes" defaultChecked={kept[name] === "yes"} /> {label}
                </label>
              ))}
            </div>
            <button type="submit" className="btn">
              Add it
            </button>
          </Form>
          <Form method="post" className="sheet space-y-2" preventScrollReset aria-labelledby="list-head">
            <h2 id="list-head">Paste a list</h2>
            <input type="hidden" name="version" value={version} />
            <AreaField
              label="List of apps (CSV)"
              name="list"
              rows={4}
              mono
              spellCheck={false}
              key={version}
              defaultValue={kept.list}
              hint="First line: name,lowest,services,integrity,64-bit,processors,hardware; the first two are enough."
            />
            <button type="submit" className="btn">
              Take the list in
            </button>
          </Form>
        </div>
      </div>
    </>
  );
}

/** App packages dropped here are read in the browser; only what they ask for is kept. */
function Packages({ version }: { version: number }) {
  const submit = useSubmit();
  const worker = useRef<Worker | null>(null);
  const [reading, setReading] = useState<string | null>(null);
  const [refused, setRefused] = useState<readonly string[]>([]);
  const take = async (files: readonly File[]) => {
    worker.current ??= new Worker(new URL("../../../workers/files.ts", import.meta.url), { type: "module" });
    const bench = wrap<FileBench>(worker.current);
    const apps: ApkContent[] = [];
    const wrong: string[] = [];
    for (const [i, file] of files.entries()) {
      setReading(`${i + 1} of ${files.length}: ${file.name}`);
      const read = await bench.recognise(file);
      if (!read.ok) wrong.push(`${file.name}: ${read.says}`);
      else if (read.value.content.kind !== "apk") wrong.push(`${file.name}: ${read.value.says}`);
      else if (read.value.content.split) wrong.push(`${file.name}: only a part of an app; drop its base package`);
      else apps.push(read.value.content);
    }
    setReading(null);
    setRefused(wrong);
    if (apps.length)
      await submit(
        { version: String(version), packages: JSON.stringify(apps) },
        { method: "post", preventScrollReset: true },
      );
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => void take(files),
    noClick: true,
    noKeyboard: true,
  });
  return (
    <section
      {...getRootProps()}
      aria-label="App packages"
      className={`rounded-lg border-2 border-dashed p-4 ${isDragActive ? "border-lane bg-lane-wash" : "border-[#8b8170] bg-sheet"}`}
    >
      <input {...getInputProps({ "aria-label": "App packages to read" })} />
      <h2>Drop the apps themselves</h2>
      <p className="hint my-1">
        APK files or split-package archives. They are read here; nothing is uploaded but what they ask for.
      </p>
      <button type="button" className="btn-main" onClick={open}>
        Choose app packages
      </button>
      <p role="status" className="mt-1">
        {reading && `Reading ${reading}`}
      </p>
      {refused.length > 0 && (
        <Notice kind="wrong">
          <ul className="list-disc pl-5">
            {refused.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </Notice>
      )}
    </section>
  );
}
