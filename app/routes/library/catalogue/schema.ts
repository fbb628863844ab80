import { packSchema } from "~/core/catalogue/packSchema";

export function loader() {
  return new Response(`${JSON.stringify(packSchema(), null, 1)}\n`, {
    headers: { "content-type": "application/schema+json; charset=utf-8" },
  });
}
