import { newReportKey } from "~/app/server/access/reportKey";
import { writeScript } from "~/core/runbook/writeScript";
import type { Route } from "./+types/runbook-sh";
import { answerRunbook } from "./answer";

export function loader({ params, request }: Route.LoaderArgs) {
  return answerRunbook(params.tag, "text/x-shellscript", "sh", (runbook, done) =>
    writeScript(runbook, done + 1, newReportKey(request, params.tag)),
  );
}
