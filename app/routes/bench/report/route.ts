import { mayReport } from "~/app/server/access/reportKey";
import { takeReport } from "~/app/server/bench/takeReport";
import { aheadOf } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { readText } from "~/app/server/http/form";
import { log } from "~/app/server/http/log";
import { MAX_REPORT } from "~/core/runbook/report";
import type { Route } from "./+types/route";

const say = (status: number, body: unknown) => Response.json(body, { status });

/** Takes what a bench script reports of its run, as JSON lines. */
export async function action({ request, params }: Route.ActionArgs) {
  if (!mayReport(request, params.tag))
    return say(403, { says: "Reports come from bench scripts of this device, with the key they were served with" });
  const text = await readText(request, MAX_REPORT);
  if (text === null) return say(413, { says: `A report may have ${MAX_REPORT / 1e6} MB at most` });
  const answer = takeReport(db(), params.tag, text, aheadOf(db()));
  if (!answer.ok || answer.refused.length)
    log.warn({ tag: params.tag, says: answer.ok ? answer.refused : answer.says }, "a report was not taken in whole");
  return say(answer.ok ? 200 : answer.status, answer);
}

export function loader() {
  return say(405, { says: "Post the report of a bench script here, as JSON lines" });
}
