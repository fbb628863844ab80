import { db } from "~/app/server/http/context";
import { catalogueOf } from "~/app/server/planning/planning";
import { PACK_SCHEMA_ID } from "~/core/catalogue/packSchema";
import { PACK_KINDS, packOf } from "~/core/catalogue/packs";
import { slugOf } from "~/core/catalogue/slug";
import type { Route } from "./+types/json";

/**
 * The catalogue as a pack, all of it or the part that the address asks for: `kind` (several), `model` (several), `only`,
 * `generic=yes`, `title`.
 */
export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const kinds = PACK_KINDS.filter((k) => query.getAll("kind").includes(k));
  const models = query.getAll("model").filter(Boolean);
  // A form sends a box only when it is ticked; an address without choices means all.
  const generic = kinds.length === 0 || query.has("only") || query.get("generic") === "yes";
  const title = (query.get("title") ?? "").trim().slice(0, 80) || "Catalogue";
  const pack = packOf(catalogueOf(db()), {
    title,
    kinds: new Set(kinds.length ? kinds : PACK_KINDS),
    models: models.length ? new Set(models) : null,
    generic,
    only: query.get("only"),
  });
  return new Response(`${JSON.stringify({ $schema: PACK_SCHEMA_ID, ...pack }, null, 1)}\n`, {
    headers: {
      "content-type": "application/json; charset=utf-8",
      "content-disposition": `attachment; filename="${slugOf(title) || "catalogue"}.json"`,
    },
  });
}
