import { notFound } from "~/app/server/http/context";
import { readButton } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { findJob } from "~/app/server/jobs/jobs";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { useWatch } from "~/app/ui/useWatch";
import type { Route } from "./+types/route";

export function loader({ params }: Route.LoaderArgs) {
  const job = findJob(Number(params.id));
  if (!job)
    throw notFound("This work is not known any more. Look at the lists at Intake: what was taken in stands there");
  if (job.state === "done" && job.what === "known") throw leadOn(`/known?taken=${job.devices}`);
  if (job.state === "done")
    throw leadOn(`/intake/lists/${job.list}${job.what === "take" ? `?taken=${job.devices}` : ""}`);
  if (job.state === "refused" && job.typed) throw leadOn(`/intake/list?job=${job.id}`);
  const { what, state, done, of, says, list } = job;
  return { what, state, done, of, says, list };
}

export async function action({ request, params }: Route.ActionArgs) {
  await readButton(request);
  findJob(Number(params.id))?.cancel();
  return leadOn(`/intake/jobs/${params.id}`);
}

/** How often the page asks how far it is, milliseconds. */
const ASK_AGAIN = 250;

export default function IntakeJob({ loaderData }: Route.ComponentProps) {
  const { what, state, done, of, says, list } = loaderData;
  useWatch(state === "running", ASK_AGAIN);
  return (
    <>
      <title>Taking in a list · Upshift Lane</title>
      <h1>
        {what === "take" ? "Taking devices in" : what === "known" ? "Loading supported devices" : "Reading the list"}
      </h1>
      {state === "running" ? (
        <>
          {/* Without scripts the page asks for itself again. */}
          <noscript>
            <meta httpEquiv="refresh" content="1" />
          </noscript>
          <div className="sheet mt-3 max-w-xl space-y-3">
            <progress
              className="h-4 w-full"
              aria-label="Rows done"
              value={of > 0 ? done : undefined}
              max={of > 0 ? of : undefined}
            />
            <p role="status">
              {of > 0 ? `${done.toLocaleString("en")} of ${of.toLocaleString("en")} rows` : "Unpacking…"}
            </p>
            <Form method="post">
              <button type="submit" className="btn-warn">
                Cancel: take nothing in
              </button>
            </Form>
          </div>
        </>
      ) : (
        <>
          <Notice kind="wrong">{says}</Notice>
          <Link to={what === "known" ? "/known" : list ? `/intake/lists/${list}` : "/intake/list"} className="btn">
            Back to the list
          </Link>
        </>
      )}
    </>
  );
}
