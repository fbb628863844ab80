import { writeSheet } from "~/core/runbook/writeSheet";
import type { Route } from "./+types/runbook-md";
import { answerRunbook } from "./answer";

export function loader({ params }: Route.LoaderArgs) {
  return answerRunbook(params.tag, "text/markdown", "md", writeSheet);
}
