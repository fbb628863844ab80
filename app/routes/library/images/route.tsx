import { db } from "~/app/server/http/context";
import { catalogueOf } from "~/app/server/planning/planning";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { ImageTable } from "~/app/ui/ImageTable";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { findImages } from "~/core/catalogue/find";
import { ImageKind, imageApi, KIND_WORDS } from "~/core/catalogue/image";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const kind = ImageKind.safeParse(query.get("kind")).data ?? null;
  const q = (query.get("q") ?? "").trim();
  const images = findImages(catalogueOf(db()).images, q, kind).sort(
    (a, b) => imageApi(b) - imageApi(a) || (a.id < b.id ? -1 : 1),
  );
  return { kind: kind ?? "", q, images };
}

export default function Images({ loaderData }: Route.ComponentProps) {
  const { kind, q, images } = loaderData;
  return (
    <>
      <title>Images · Upshift Lane</title>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h1>Images</h1>
        <Form method="get" className="flex flex-wrap items-end gap-2" key={`${kind} ${q}`}>
          <TextField label="Title, model, build, file" name="q" type="search" defaultValue={q} />
          <ChoiceField
            label="Kind"
            name="kind"
            defaultValue={kind}
            options={[
              { value: "", text: "all kinds" },
              ...ImageKind.options.map((k) => ({ value: k, text: KIND_WORDS[k] })),
            ]}
          />
          <button type="submit" className="btn">
            Show
          </button>
          <a href={`/images.csv?${new URLSearchParams({ kind, q })}`} className="btn">
            Save as CSV
          </a>
          <Link to="/images/new" className="btn-main">
            A new image
          </Link>
        </Form>
      </div>
      <div className="mt-3">
        {images.length === 0 ? <Notice kind="caution">No image is like this.</Notice> : <ImageTable images={images} />}
      </div>
    </>
  );
}
