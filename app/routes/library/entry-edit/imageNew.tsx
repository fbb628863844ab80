import { data } from "react-router";
import { editEntry } from "~/app/server/catalogue/editEntry";
import { today } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf } from "~/app/server/planning/planning";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { SectionForm } from "~/app/ui/SectionForm";
import { guessFacets, guessWords } from "~/core/catalogue/facets";
import { Image, ImageKind, KIND_WORDS } from "~/core/catalogue/image";
import { IMAGE_DRAFT } from "~/core/catalogue/imageSections";
import { modelWithCode } from "~/core/catalogue/model";
import { slugOf } from "~/core/catalogue/slug";
import type { Route } from "./+types/imageNew";

/** What a file told of itself comes in the address; nothing else is guessed. */
export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const text = (key: string) => (params.get(key) ?? "").slice(0, 400);
  const { models } = catalogueOf(db());
  const devices = text("devices").split("|");
  const name = text("file")
    .replaceAll(/[^A-Za-z0-9._-]+/g, "-")
    .slice(-80);
  // What a content told outweighs what a name suggests.
  const guess = text("kind") === "gsi" ? guessFacets(name) : null;
  const cpu = text("cpu") || guess?.cpu || null;
  return {
    guess: guess ? guessWords(guess) : [],
    models: models.map((m) => ({ value: m.id, text: modelWithCode(m) })),
    draft: {
      id: slugOf(name.replace(/\.[a-z0-9]+$/i, "")),
      kind: text("kind") || "rom",
      title: name
        .replace(/\.[a-z0-9]+$/i, "")
        .replaceAll(/[-_]+/g, " ")
        .trim(),
      version: "",
      release: text("release"),
      build: text("build") || null,
      patch: text("patch") || null,
      released: "",
      firmware: null,
      services: guess?.services ?? false,
      rooted: guess?.rooted ?? false,
      models: models.filter((m) => devices.includes(m.codename) || m.id === text("model")).map((m) => m.id),
      cpu,
      generic: guess ? { binder: guess.binder, slots: guess.slots, patching: guess.patching } : undefined,
      installs: null,
      flavour: null,
      files: name
        ? [
            {
              name,
              partition: text("partition") || null,
              bytes: text("bytes"),
              expanded: text("expanded") || null,
              sha256: text("sha256") || null,
            },
          ]
        : [],
      source: name ? `Drafted from the file ${name}` : "",
      on: today(db()),
    },
    fromFile: name !== "",
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request, { long: { "*": 200_000 } });
  nameIt(form);
  const begin = { id: String(form.get("id") ?? "") } as unknown as Image;
  const answer = editEntry(db(), "image", begin, IMAGE_DRAFT, Image, form, handOf(request));
  return answer.ok ? leadOn(`/images/${answer.id}`) : data(answer, { status: 400 });
}

/** Title and short name are made of what else was said, where nobody thought of one. */
function nameIt(form: FormData) {
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const kind = ImageKind.safeParse(text("kind"));
  const made = !text("title") && kind.success && text("release") !== "";
  if (made) form.set("title", `${KIND_WORDS[kind.data]}, Android ${text("release")}`);
  if (!text("id")) form.set("id", slugOf(`${made ? text("models") : ""} ${text("title")}`));
}

export default function ImageNew({ loaderData, actionData }: Route.ComponentProps) {
  const { draft, models, fromFile, guess } = loaderData;
  return (
    <>
      <title>A new image · Upshift Lane</title>
      <p className="hint">
        <Link to="/images">Images</Link>
      </p>
      <h1>A new image</h1>
      <p className="hint">
        {fromFile
          ? "What stands here is what the file told of itself. Check it against the page it came from: plans rest on it."
          : "A file dropped on the Files page can be drafted from there."}
      </p>
      {guess.length > 0 && (
        <Notice kind="caution">
          Guessed from the file's name, not read from it: {guess.join("; ")}. Look at each before you keep it.
        </Notice>
      )}
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      <SectionForm
        section={IMAGE_DRAFT}
        entry={draft}
        version={0}
        models={models}
        images={[]}
        kept={actionData?.kept ?? null}
        wrong={actionData?.wrong ?? {}}
        submit="Put it into the catalogue"
      />
    </>
  );
}
