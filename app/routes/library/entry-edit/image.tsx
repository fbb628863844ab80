import { data } from "react-router";
import { editEntry } from "~/app/server/catalogue/editEntry";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf } from "~/app/server/planning/planning";
import { Image } from "~/core/catalogue/image";
import { IMAGE_SECTIONS } from "~/core/catalogue/imageSections";
import { modelWithCode } from "~/core/catalogue/model";
import { entryVersion } from "~/store/catalogue";
import type { Route } from "./+types/image";
import { EntryEdit } from "./EntryEdit";

function found(id: string, part: string) {
  const { images, models } = catalogueOf(db());
  const image = images.find((i) => i.id === id);
  const section = IMAGE_SECTIONS.find((s) => s.id === part);
  if (!image || !section || (section.kinds && !section.kinds.includes(image.kind)))
    throw notFound(`There is no part ${part} of an image ${id}`);
  return { image, section, images, models };
}

export function loader({ params }: Route.LoaderArgs) {
  const { image, section, images, models } = found(params.id, params.part);
  return {
    image,
    section,
    version: entryVersion(db(), "image", image.id),
    // A fault of an image is seen on one of its own models; a generic image goes on any.
    models: models
      .filter((m) => section.id !== "faults" || image.models.length === 0 || image.models.includes(m.id))
      .map((m) => ({ value: m.id, text: modelWithCode(m) })),
    images: images
      .filter((i) => i.kind === image.kind && i.id !== image.id)
      .map((i) => ({ value: i.id, text: i.title })),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const { image, section } = found(params.id, params.part);
  const answer = editEntry(
    db(),
    "image",
    image,
    section,
    Image,
    await readForm(request, { long: { "*": 200_000 } }),
    handOf(request),
  );
  return answer.ok ? leadOn(`/images/${image.id}`) : data(answer, { status: 400 });
}

export default function ImageEdit({ loaderData, actionData }: Route.ComponentProps) {
  const { image, section, version, models, images } = loaderData;
  return (
    <EntryEdit
      title={image.title}
      page={`/images/${image.id}`}
      section={section}
      entry={image}
      version={version}
      models={models}
      images={images}
      answer={actionData}
    />
  );
}
