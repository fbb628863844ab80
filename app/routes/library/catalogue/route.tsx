import { data } from "react-router";
import { db, handOf } from "~/app/server/http/context";
import { givenBack, MAX_PASTED, readFormWithin } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf } from "~/app/server/planning/planning";
import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { countText, timeText } from "~/app/ui/words";
import { type CatalogueProblem, readPack } from "~/core/catalogue/catalogue";
import { modelWithCode } from "~/core/catalogue/model";
import { addPack, listPacks } from "~/store/packs";
import type { Route } from "./+types/route";

/** A catalogue of 400 images is about 400 kB. */
const MAX_BYTES = 8_000_000;

export function loader({ request }: Route.LoaderArgs) {
  const c = catalogueOf(db());
  return {
    counts: { models: c.models.length, images: c.images.length, needs: c.needs.length, pairs: c.incompatible.length },
    models: c.models.map((m) => ({ id: m.id, title: modelWithCode(m) })).sort((a, b) => (a.title < b.title ? -1 : 1)),
    packs: listPacks(db()).map(({ id, title, name, at, by, taken }) => ({ id, title, name, at, by, taken })),
    dropped: new URL(request.url).searchParams.has("dropped"),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const refuse = (problems: readonly CatalogueProblem[], status: number, text = "") =>
    data({ text: givenBack(text), problems }, { status });
  const form = await readFormWithin(request, { most: MAX_BYTES * 1.1, long: { text: MAX_BYTES } });
  if (!form)
    return refuse([{ at: "file", says: "The file is larger than 8 MB: that is no pack. Nothing was changed" }], 413);
  const file = form.get("file");
  const chosen = file instanceof File && file.size > 0;
  const text = chosen ? await file.text() : String(form.get("text") ?? "");
  if (!chosen && text.length > MAX_PASTED)
    return refuse([{ at: "text", says: "More than 2 MB are too much to paste: choose the pack as a file" }], 413);
  if (text.trim() === "") return refuse([{ at: "file", says: "Choose a file, or paste a pack" }], 400);
  const read = readPack(text);
  if (!read.ok) return refuse(read.problems, 400, text);
  const name = chosen ? file.name.slice(0, 120) : "pasted";
  return leadOn(`/catalogue/packs/${addPack(db(), { title: read.pack.title, name, text }, handOf(request))}`);
}

const KINDS = [
  ["model", "models"],
  ["image", "images"],
  ["need", "needs"],
  ["incompatible", "pairs"],
] as const;

const KIND_TEXT = {
  model: "Models",
  image: "Images",
  need: "Needs with their apps",
  incompatible: "Pairs that do not work together",
} as const;

export default function CataloguePage({ loaderData, actionData }: Route.ComponentProps) {
  const { counts, models, packs, dropped } = loaderData;
  return (
    <>
      <title>Catalogue packs · Upshift Lane</title>
      <h1>Catalogue packs</h1>
      <p className="hint my-2">
        A pack is the catalogue or a part of it as one file (JSON), to pass on or to keep. Its form is{" "}
        <a href="/catalogue.schema.json">published as a JSON Schema</a>. The lists are also there as CSV:{" "}
        <a href="/models.csv">models</a>, <a href="/images.csv">images</a>, <a href="/floors.csv">apps of the needs</a>.
      </p>
      {dropped && <Notice kind="done">The pack is thrown away. Nothing of the catalogue has changed.</Notice>}
      {actionData && (
        <Notice kind="wrong">
          Nothing was changed. {countText(actionData.problems.length, "problem")}:
          <ul className="mt-1 list-disc pl-5">
            {actionData.problems.map((p) => (
              <li key={p.at + p.says}>
                <code>{p.at}</code>: {p.says}
              </li>
            ))}
          </ul>
        </Notice>
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <Form method="post" encType="multipart/form-data" className="sheet space-y-3" preventScrollReset>
          <h2>Bring one in</h2>
          <p className="hint">
            First you see what is new, what is different and where somebody here changed the same thing. Nothing that
            was changed here is overwritten unless you say so.
          </p>
          <div>
            <label className="label" htmlFor="file">
              File
            </label>
            <input id="file" type="file" name="file" accept=".json,application/json" className="field" />
          </div>
          <AreaField
            label="Or paste it"
            name="text"
            rows={5}
            spellCheck={false}
            mono
            key={actionData?.text || "own"}
            defaultValue={actionData?.text}
          />
          <button type="submit" className="btn-main">
            See what it would change
          </button>
        </Form>
        <form method="get" action="/catalogue.json" className="sheet space-y-3">
          <h2>Save one</h2>
          <TextField
            label="Title"
            name="title"
            defaultValue="Catalogue"
            hint="A later pack of the same title counts as the next state of this one"
          />
          <fieldset>
            <legend className="label">What goes in</legend>
            {KINDS.map(([kind, many]) => (
              <label key={kind} className="block">
                <input type="checkbox" name="kind" value={kind} defaultChecked /> {KIND_TEXT[kind]} ({counts[many]})
              </label>
            ))}
          </fieldset>
          <fieldset>
            <legend className="label">Only for these models</legend>
            <p className="hint">None ticked: for all. Images come with the models they are made for.</p>
            <div className="max-h-44 overflow-y-auto rounded-md border border-rule p-2">
              {models.map((m) => (
                <label key={m.id} className="block">
                  <input type="checkbox" name="model" value={m.id} /> {m.title}
                </label>
              ))}
            </div>
            <label className="mt-1 block">
              <input type="checkbox" name="generic" value="yes" defaultChecked /> Images made for no model in particular
              too
            </label>
          </fieldset>
          <button type="submit" className="btn-main">
            Save the pack (JSON)
          </button>
        </form>
      </div>
      {packs.length > 0 && (
        <section className="sheet mt-4" aria-labelledby="packs">
          <h2 id="packs">Brought in</h2>
          <ul className="mt-1 space-y-1">
            {packs.map((p) => (
              <li key={p.id}>
                <Link to={`/catalogue/packs/${p.id}`} className="font-bold">
                  {p.title}
                </Link>{" "}
                <span className="text-soft">
                  {p.name}, {timeText(p.at)}, {p.by}
                </span>
                : {p.taken ? `taken in ${timeText(p.taken.at)} by ${p.taken.by}` : "not taken in"}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
