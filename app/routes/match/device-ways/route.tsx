import { data } from "react-router";
import { acceptedOf } from "~/app/server/bench/accepted";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { acceptWay, takeBack } from "~/app/server/planning/decide";
import { housePolicy } from "~/app/server/planning/housePolicy";
import { whereaboutsOf } from "~/app/server/planning/lane";
import { indexOf } from "~/app/server/planning/planning";
import { imageTitles, shownWays } from "~/app/server/planning/shownWays";
import { goesNoFurther, toldOf } from "~/app/server/planning/told";
import { Decide } from "~/app/ui/Decide";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { PickWays } from "~/app/ui/PickWays";
import { StopList } from "~/app/ui/Reasons";
import { Scroll } from "~/app/ui/Scroll";
import { VerdictMark } from "~/app/ui/Verdict";
import { WayCompare } from "~/app/ui/WayCompare";
import { isFinishedRun, outcomeOf } from "~/core/lane/station";
import { findStanding } from "~/store/devices";
import { runStanding } from "~/store/runs";
import type { Route } from "./+types/route";

export function loader({ params, request }: Route.LoaderArgs) {
  const standing = findStanding(db(), params.tag);
  if (!standing) throw notFound(`There is no device ${params.tag}`);
  const { planned, way: chosen, run, stale } = acceptedOf(db(), standing);
  const { plan } = planned;
  const outcome = outcomeOf(whereaboutsOf(planned, runStanding(db(), standing.run)));
  // What was undone behind a finished run is done again: the way is accepted anew, like one whose ground has moved.
  const again = stale !== null || (run !== null && isFinishedRun(run));
  const compare = new URL(request.url).searchParams.getAll("compare");
  return {
    tag: standing.tag,
    ...toldOf(plan, outcome),
    further: !goesNoFurther(outcome),
    chosen: chosen !== null,
    stale,
    ways: shownWays(plan, chosen, compare, housePolicy(db()), again),
    stops: plan.stops,
    titles: imageTitles([plan], indexOf(db())),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request);
  const reason = String(form.get("reason") ?? "");
  const wrong =
    form.get("do") === "take-back"
      ? takeBack(db(), params.tag, handOf(request))
      : acceptWay(db(), [params.tag], String(form.get("way") ?? ""), reason, handOf(request));
  if (wrong) return data({ says: wrong, reason }, { status: 409 });
  const back = `/bench/${params.tag}`;
  return leadOn(form.get("back") === back ? back : `/devices/${params.tag}/ways`);
}

export default function DeviceWays({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, verdict, says, further, chosen, stale, ways, stops, titles } = loaderData;
  return (
    <>
      <title>{`Ways of ${tag} · Upshift Lane`}</title>
      <p className="hint">
        <Link to={`/devices/${tag}`}>{tag}</Link>
      </p>
      <div className="flex flex-wrap items-center gap-3">
        <h1>Ways of {tag}</h1>
        <VerdictMark verdict={verdict} />
      </div>
      <p className="mt-1 font-semibold">{says}</p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {stale && (
        <Notice kind="caution">{stale.says}. Sheet, script and bench wait until a way is accepted again.</Notice>
      )}
      {chosen && (
        <Form method="post" className="my-2 flex gap-2">
          <Link to={`/bench/${tag}`} className="btn-main">
            To the bench
          </Link>
          <button type="submit" name="do" value="take-back" className="btn">
            Take the decision back
          </button>
        </Form>
      )}
      <PickWays all={ways.all} side={ways.side.map((s) => s.way.id)} titles={titles} keep={{}} />
      <div className="sheet">
        {ways.side.length ? (
          <WayCompare
            ways={ways.side}
            titles={titles}
            deciding={ways.deciding}
            actions={further ? (shown) => <Decide shown={shown} tags={[tag]} reason={actionData?.reason} /> : undefined}
          />
        ) : (
          <p>There is no way to compare at this moment.</p>
        )}
      </div>
      <section className="sheet mt-4" aria-labelledby="stops">
        <h2 id="stops">Images not reached, and why</h2>
        <Scroll label="Images not reached">
          <StopList stops={stops} titles={titles} />
        </Scroll>
      </section>
    </>
  );
}
