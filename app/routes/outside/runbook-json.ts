import { writeRunbookJson } from "~/core/runbook/writeSheet";
import type { Route } from "./+types/runbook-json";
import { answerRunbook } from "./answer";

export function loader({ params }: Route.LoaderArgs) {
  return answerRunbook(params.tag, "application/json", "json", writeRunbookJson);
}
