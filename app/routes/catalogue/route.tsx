import { data, Form } from "react-router";
import { db, handOf } from "~/app/server/context";
import { catalogueOf } from "~/app/server/planning";
import { AreaField } from "~/app/ui/Field";
import { Notice } from "~/app/ui/Notice";
import { countText } from "~/app/ui/words";
import { type CatalogueProblem, readCatalogue } from "~/core/catalogue/catalogue";
import { type CatalogueDifference, compareCatalogue, replaceCatalogue } from "~/store/catalogue";
import type { Route } from "./+types/route";

/** A catalogue of 400 images is about 400 kB. */
const MAX_BYTES = 20_000_000;

export function loader() {
  const c = catalogueOf(db());
  return { models: c.models.length, images: c.images.length, needs: c.needs.length, pairs: c.incompatible.length };
}

interface Answer {
  readonly text: string;
  readonly problems: readonly CatalogueProblem[];
  readonly differences: readonly CatalogueDifference[] | null;
  readonly done: boolean;
}

export async function action({ request }: Route.ActionArgs) {
  const answer: Answer = { text: "", problems: [], differences: null, done: false };
  if (Number(request.headers.get("content-length") ?? 0) > MAX_BYTES)
    return data(
      {
        ...answer,
        problems: [{ at: "file", says: "The file is larger than 20 MB: that is no catalogue. Nothing was changed" }],
      },
      { status: 413 },
    );
  const form = await request.formData();
  const file = form.get("file");
  const text = file instanceof File && file.size > 0 ? await file.text() : String(form.get("text") ?? "");
  if (text.trim() === "")
    return data(
      { ...answer, problems: [{ at: "file", says: "Choose a file, or paste a catalogue" }] },
      { status: 400 },
    );
  const read = readCatalogue(text);
  if (!read.ok) return data({ ...answer, text, problems: read.problems }, { status: 400 });
  if (form.get("do") !== "take") return data({ ...answer, text, differences: compareCatalogue(db(), read.catalogue) });
  try {
    return data({ ...answer, differences: replaceCatalogue(db(), read.catalogue, handOf(request)), done: true });
  } catch (error) {
    return data({ ...answer, text, problems: [{ at: "needs", says: (error as Error).message }] }, { status: 409 });
  }
}

export default function CataloguePage({ loaderData, actionData }: Route.ComponentProps) {
  const differences = actionData?.differences ?? null;
  return (
    <>
      <title>Catalogue: import, export · Upshift Lane</title>
      <h1>Import and export the catalogue</h1>
      <p className="my-2">
        {countText(loaderData.models, "model")}, {countText(loaderData.images, "image")},{" "}
        {countText(loaderData.needs, "need")}, {countText(loaderData.pairs, "pair")} known not to work together.
      </p>
      <p>
        <a href="/catalogue.json" className="btn-main">
          Save the whole catalogue (JSON)
        </a>
      </p>
      {actionData?.done && (
        <Notice kind="done">
          The catalogue is in: {countText(differences?.length ?? 0, "entry", "entries")} changed.
        </Notice>
      )}
      {actionData && actionData.problems.length > 0 && (
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
      <Form method="post" encType="multipart/form-data" className="sheet mt-4 max-w-3xl space-y-3" preventScrollReset>
        <h2>Bring in a catalogue</h2>
        <p className="hint">
          The file replaces the catalogue that is here. First you see what would change; earlier entries stay in the
          history.
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
          rows={6}
          spellCheck={false}
          mono
          key={actionData?.text}
          defaultValue={actionData?.text}
        />
        {differences && !actionData?.done && (
          <section aria-labelledby="diff">
            <h3 id="diff">
              {differences.length
                ? `${countText(differences.length, "entry", "entries")} would change`
                : "It is the same as what is here"}
            </h3>
            <ul className="list-disc pl-5">
              {differences.map((d) => (
                <li key={d.kind + d.id}>
                  {d.kind} {d.id}: <strong>{d.is}</strong>
                </li>
              ))}
            </ul>
          </section>
        )}
        <div className="flex flex-wrap gap-2">
          <button
            type="submit"
            name="do"
            value="look"
            className={differences && !actionData?.done ? "btn" : "btn-main"}
          >
            See what would change
          </button>
          {differences && differences.length > 0 && !actionData?.done && (
            <button type="submit" name="do" value="take" className="btn-main">
              Replace the catalogue
            </button>
          )}
        </div>
      </Form>
    </>
  );
}
