import { runbookOf } from "~/app/server/bench/runbooks";
import { db } from "~/app/server/http/context";
import type { Runbook } from "~/core/runbook/step";

/** Answers with a device's runbook in one of its three forms, or says why there is none. */
export function answerRunbook(
  tag: string,
  type: string,
  extension: string,
  write: (runbook: Runbook, done: number) => string,
): Response {
  const found = runbookOf(db(), tag);
  if (!found.ok) {
    const json = type === "application/json";
    const body = json ? JSON.stringify({ error: found.code, says: found.says }) : found.says;
    return new Response(`${body}\n`, {
      status: found.status,
      headers: { "content-type": `${json ? type : "text/plain"}; charset=utf-8` },
    });
  }
  return new Response(write(found.runbook, found.done), {
    headers: {
      "content-type": `${type}; charset=utf-8`,
      "content-disposition": `inline; filename="${found.runbook.tag}-runbook.${extension}"`,
    },
  });
}
