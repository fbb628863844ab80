import { db } from "~/app/server/http/context";
import { planJson } from "~/app/server/planning/planJson";
import { findBatch } from "~/store/devices";
import type { Route } from "./+types/plan";

export function loader({ params, request }: Route.LoaderArgs) {
  if (!findBatch(db(), params.batch))
    return Response.json({ error: "no-such-batch", says: `There is no batch ${params.batch}` }, { status: 404 });
  return Response.json(planJson(db(), params.batch, new URL(request.url).searchParams.get("stops") === "all"));
}
