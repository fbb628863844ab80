import { Form, Link } from "react-router";
import { db } from "~/app/server/context";
import { catalogueOf } from "~/app/server/planning";
import { ChoiceField } from "~/app/ui/Field";
import { ImageTable } from "~/app/ui/ImageTable";
import { ImageKind, imageApi, KIND_WORDS } from "~/core/catalogue/image";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const kind = ImageKind.safeParse(new URL(request.url).searchParams.get("kind")).data ?? null;
  const images = catalogueOf(db())
    .images.filter((i) => kind === null || i.kind === kind)
    .sort((a, b) => imageApi(b) - imageApi(a) || (a.id < b.id ? -1 : 1));
  return { kind: kind ?? "", images };
}

export default function Images({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <title>Images · Upshift Lane</title>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h1>Images</h1>
        <Form method="get" className="flex items-end gap-2">
          <ChoiceField
            label="Kind"
            name="kind"
            defaultValue={loaderData.kind}
            options={[
              { value: "", text: "all kinds" },
              ...ImageKind.options.map((k) => ({ value: k, text: KIND_WORDS[k] })),
            ]}
          />
          <button type="submit" className="btn">
            Show
          </button>
          <Link to="/images/new" className="btn-main">
            A new image
          </Link>
        </Form>
      </div>
      <div className="mt-3">
        <ImageTable images={loaderData.images} />
      </div>
    </>
  );
}
