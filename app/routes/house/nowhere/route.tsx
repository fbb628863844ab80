import { notFound } from "~/app/server/http/context";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  throw notFound(`There is no page ${new URL(request.url).pathname}. Use the lane, or search for a tag`);
}

export default function Nowhere() {
  return null;
}
