import { FolderOpen } from "lucide-react";
import { useCallback, useMemo, useRef, useState } from "react";
import { useDropzone } from "react-dropzone";
import { useRevalidator } from "react-router";
import { recordDigest } from "~/app/server/catalogue/recordDigest";
import { db, handOf } from "~/app/server/http/context";
import { readForm, textFields } from "~/app/server/http/form";
import { catalogueOf, plannedDevice } from "~/app/server/planning/planning";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { HOLDS_LOOK, HoldMark, type Holds } from "~/app/ui/HoldMark";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { bytesText, countText, timeText } from "~/app/ui/words";
import { apiOf } from "~/core/android/releases";
import { systemAsRoot } from "~/core/catalogue/layout";
import { type Model, modelTitle, modelWithCode } from "~/core/catalogue/model";
import { currentValue } from "~/core/device/lookUp";
import { agreesWithLists, writeDigestList } from "~/core/files/agreesWithLists";
import { holdAgainst, judgeFile, type Target } from "~/core/files/holdAgainst";
import { matchFile } from "~/core/files/match";
import { findStanding } from "~/store/devices";
import { type FileSeen, lastFilesSeen } from "~/store/filesSeen";
import type { Route } from "./+types/route";
import { FileRow, type JudgedFile } from "./FileRow";
import { type DroppedFile, useFileBench } from "./useFileBench";

const targetOf = (model: Model, title: string): Target => ({
  title,
  model: model.id,
  codename: model.codename,
  cpu: model.cpu,
  flash: model.flash,
  binder: model.binder,
  systemAsRoot: systemAsRoot(model, null),
  build: null,
  api: null,
});

export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const { images, models } = catalogueOf(db());
  const tag = (params.get("device") ?? "").trim();
  const standing = tag ? findStanding(db(), tag) : undefined;
  const device = standing && plannedDevice(db(), standing);
  const model = device?.model ?? models.find((m) => m.id === params.get("model")) ?? null;
  const fact = (key: "build.number" | "android.release") => (device ? (currentValue(device.facts, key) ?? null) : null);
  const release = fact("android.release");
  return {
    images: images.map(({ id, kind, title, release, build, patch, models, cpu, generic, files, needs, withdrawn }) => ({
      id,
      kind,
      title,
      release,
      build,
      patch,
      models,
      cpu,
      generic,
      files,
      needs,
      withdrawn,
    })),
    codenames: Object.fromEntries(models.map((m) => [m.id, m.codename])),
    models: models.map((m) => ({ value: m.id, text: modelWithCode(m) })),
    device: standing?.tag ?? tag,
    known: standing !== undefined,
    wrong:
      tag && !standing
        ? `There is no device ${tag}`
        : device && !device.model
          ? `${tag} is not identified yet: only what holds for any device is looked at`
          : null,
    model: model?.id ?? "",
    maxDownload: model?.maxDownload ?? null,
    target:
      model &&
      (device
        ? {
            ...targetOf(model, `${device.standing.tag}, ${modelTitle(model)}`),
            cpu: currentValue(device.facts, "cpu.arch") ?? model.cpu,
            binder: currentValue(device.facts, "kernel.binder") ?? model.binder,
            systemAsRoot: systemAsRoot(model, currentValue(device.facts, "system.as-root") ?? null),
            build: fact("build.number"),
            api: release ? apiOf(release) : null,
          }
        : targetOf(model, modelTitle(model))),
    seen: lastFilesSeen(db(), 12),
  };
}

export async function action({ request }: Route.ActionArgs) {
  return recordDigest(db(), textFields(await readForm(request)), handOf(request));
}

export default function Files({ loaderData }: Route.ComponentProps) {
  const { images, codenames, target, models, seen, wrong, maxDownload } = loaderData;
  const { revalidate } = useRevalidator();
  const judge = useCallback(
    (dropped: DroppedFile, all: readonly DroppedFile[]): JudgedFile => {
      const { report, digests, state } = dropped;
      if (!report || state !== "done") return { dropped, match: null, checks: [], verdict: null };
      const match = matchFile(report, digests, images, (id) => codenames[id]);
      const image = images.find((i) => i.id === match.image) ?? null;
      const checks = target ? holdAgainst(report, image, target) : [];
      const lines = all.flatMap((f) => (f.report?.content.kind === "digest-list" ? f.report.content.lines : []));
      const lists = report.content.kind === "digest-list" ? null : agreesWithLists(report.name, digests, lines);
      return { dropped, match, checks, verdict: judgeFile(report, match, checks, lists) };
    },
    [images, codenames, target],
  );
  const known = useRef<readonly DroppedFile[]>([]);
  const bench = useFileBench((done) => {
    const { report } = done;
    const { match, verdict } = judge(done, [...known.current, done]);
    if (!report || !verdict || !match || !done.digests.sha256) return;
    const entry: FileSeen = {
      name: report.name,
      size: report.size,
      sha256: done.digests.sha256,
      md5: done.digests.md5,
      image: match.image,
      file: match.file,
      verdict: verdict.is,
      says: verdict.says.slice(0, 600),
    };
    void fetch("/files/seen", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(entry),
    }).then(revalidate);
  });
  known.current = bench.files;
  const judged = useMemo(() => bench.files.map((f) => judge(f, bench.files)), [bench.files, judge]);
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: bench.add,
    noClick: true,
    noKeyboard: true,
  });
  const folder = useRef<HTMLInputElement>(null);
  const [only, setOnly] = useState<Holds | null>(null);
  const count = (is: Holds) => judged.filter((j) => j.verdict?.is === is).length;
  const others = bench.files.map(({ file }) => ({ name: file.name, bytes: file.size }));
  const whole = judged.filter((j) => j.dropped.digests.sha256);

  return (
    <>
      <title>Files · Upshift Lane</title>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1>Files</h1>
          <p className="hint">
            What it is, whom it suits, whether it is whole. Files are read here; nothing is uploaded.
          </p>
        </div>
        <Form method="get" className="flex flex-wrap items-end gap-2" aria-label="Hold the files against">
          <TextField label="For device" name="device" defaultValue={loaderData.device} wrong={wrong} className="w-32" />
          <ChoiceField
            label="or model"
            name="model"
            key={loaderData.model}
            defaultValue={loaderData.model}
            options={[{ value: "", text: "any" }, ...models]}
          />
          <button type="submit" className="btn">
            Hold against it
          </button>
        </Form>
      </div>
      {target && (
        <p className="mt-2">
          Held against <strong>{target.title}</strong> ({target.codename}, {target.cpu}
          {target.build ? `, build ${target.build}` : ", build not known"}).
        </p>
      )}
      <div
        {...getRootProps()}
        className={`mt-3 rounded-lg border-2 border-dashed p-5 text-center ${isDragActive ? "border-lane bg-lane-wash" : "border-[#8b8170] bg-sheet"}`}
      >
        <input {...getInputProps({ "aria-label": "Files to look at", id: "files" })} />
        <p className="font-semibold">
          {isDragActive ? "Let go: they are read here" : "Drop files or a whole folder here"}
        </p>
        <div className="mt-2 flex flex-wrap justify-center gap-2">
          <button type="button" className="btn-main" onClick={open}>
            Choose files
          </button>
          <button type="button" className="btn" onClick={() => folder.current?.click()}>
            <FolderOpen size={16} aria-hidden="true" /> Choose a folder
          </button>
        </div>
        <input
          ref={folder}
          type="file"
          multiple
          hidden
          aria-label="Folder to look at"
          // The attribute is not in React's types; every browser with folders knows it.
          {...{ webkitdirectory: "" }}
          onChange={(e) => {
            bench.add([...(e.target.files ?? [])]);
            e.target.value = "";
          }}
        />
      </div>
      <noscript>
        <p className="sheet mt-3">
          Files are read in your browser, which needs its scripts. Switch them on for this page.
        </p>
      </noscript>
      {judged.length > 0 && (
        <section aria-labelledby="dropped" className="mt-4">
          <div className="flex flex-wrap items-center justify-between gap-2">
            <h2 id="dropped">{countText(judged.length, "file")}</h2>
            <div className="flex grow flex-wrap gap-1" role="status">
              {(Object.keys(HOLDS_LOOK) as Holds[])
                .filter((is) => count(is) > 0)
                .map((is) => (
                  <button
                    key={is}
                    type="button"
                    aria-pressed={only === is}
                    title={only === is ? "Show all" : `Show only what is ${HOLDS_LOOK[is].word}`}
                    className={`cursor-pointer rounded-full ${only === is ? "ring-2 ring-ink" : ""}`}
                    onClick={() => setOnly(only === is ? null : is)}
                  >
                    <HoldMark is={is} word={`${count(is)} ${HOLDS_LOOK[is].word}`} />
                  </button>
                ))}
            </div>
            <div className="flex gap-2">
              <a
                className="btn px-2 py-0.5 text-sm"
                download="digests.sha256"
                href={`data:text/plain;charset=utf-8,${encodeURIComponent(
                  writeDigestList(
                    whole.map((j) => ({ sha256: j.dropped.digests.sha256 ?? "", path: j.dropped.file.name })),
                  ),
                )}`}
              >
                Save digest list
              </a>
              <button type="button" className="btn px-2 py-0.5 text-sm" onClick={() => bench.remove("all")}>
                Put all away
              </button>
            </div>
          </div>
          <ul className="mt-2 space-y-2">
            {judged
              .filter((j) => only === null || j.verdict?.is === only)
              .map((j) => (
                <FileRow
                  key={j.dropped.id}
                  judged={j}
                  maxDownload={maxDownload}
                  device={loaderData.known ? loaderData.device : null}
                  others={others}
                  cancel={() => bench.cancel(j.dropped.id)}
                  remove={() => bench.remove(j.dropped.id)}
                  take={(partition) => bench.take(j.dropped.file, partition)}
                />
              ))}
          </ul>
        </section>
      )}
      <section aria-labelledby="before" className="mt-6">
        <h2 id="before">Looked at before</h2>
        {seen.length === 0 ? (
          <p className="hint">Nothing yet. Try it with the demo's files: npm run demo:files</p>
        ) : (
          <Scroll label="Looked at before">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">File</th>
                  <th scope="col" className="n">
                    Size
                  </th>
                  <th scope="col">Answer</th>
                  <th scope="col">Why</th>
                  <th scope="col">Record</th>
                  <th scope="col">When</th>
                </tr>
              </thead>
              <tbody>
                {seen.map((s) => (
                  <tr key={s.at + s.name + s.sha256}>
                    <td className="font-mono text-sm break-all">{s.name}</td>
                    <td className="n">{bytesText(s.size)}</td>
                    <td>
                      <HoldMark is={s.verdict} />
                    </td>
                    <td>{s.says}</td>
                    <td>{s.image ? <Link to={`/images/${s.image}`}>{s.image}</Link> : "—"}</td>
                    <td className="whitespace-nowrap">
                      {timeText(s.at)}, {s.by}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
        )}
      </section>
    </>
  );
}
