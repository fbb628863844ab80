import { data } from "react-router";
import { editEntry } from "~/app/server/catalogue/editEntry";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf } from "~/app/server/planning/planning";
import { Model, modelTitle } from "~/core/catalogue/model";
import { MODEL_SECTIONS } from "~/core/catalogue/modelSections";
import { entryVersion } from "~/store/catalogue";
import type { Route } from "./+types/model";
import { EntryEdit } from "./EntryEdit";

function found(id: string, part: string) {
  const model = catalogueOf(db()).models.find((m) => m.id === id);
  const section = MODEL_SECTIONS.find((s) => s.id === part);
  if (!model || !section) throw notFound(`There is no part ${part} of a model ${id}`);
  return { model, section };
}

export function loader({ params }: Route.LoaderArgs) {
  const { model, section } = found(params.id, params.part);
  return { model, section, version: entryVersion(db(), "model", model.id) };
}

export async function action({ request, params }: Route.ActionArgs) {
  const { model, section } = found(params.id, params.part);
  const answer = editEntry(
    db(),
    "model",
    model,
    section,
    Model,
    await readForm(request, { long: { "*": 200_000 } }),
    handOf(request),
  );
  return answer.ok ? leadOn(`/models/${model.id}`) : data(answer, { status: 400 });
}

export default function ModelEdit({ loaderData, actionData }: Route.ComponentProps) {
  const { model, section, version } = loaderData;
  return (
    <EntryEdit
      title={modelTitle(model)}
      page={`/models/${model.id}`}
      section={section}
      entry={model}
      version={version}
      models={[]}
      images={[]}
      answer={actionData}
    />
  );
}
