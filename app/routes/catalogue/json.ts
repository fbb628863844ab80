import { db } from "~/app/server/context";
import { catalogueOf } from "~/app/server/planning";

export function loader() {
  return new Response(`${JSON.stringify(catalogueOf(db()), null, 1)}\n`, {
    headers: {
      "content-type": "application/json; charset=utf-8",
      "content-disposition": 'attachment; filename="catalogue.json"',
    },
  });
}
