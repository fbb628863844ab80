import { data } from "react-router";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { acceptWay } from "~/app/server/planning/decide";
import { groupedBy } from "~/app/server/planning/groupedBy";
import { housePolicy } from "~/app/server/planning/housePolicy";
import { indexOf, plannedDevices } from "~/app/server/planning/planning";
import { imageTitles, shownWays } from "~/app/server/planning/shownWays";
import { Decide } from "~/app/ui/Decide";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { PickWays } from "~/app/ui/PickWays";
import { QuestionList, StopList } from "~/app/ui/Reasons";
import { Scroll } from "~/app/ui/Scroll";
import { UpshiftChart } from "~/app/ui/UpshiftChart";
import { VerdictMark } from "~/app/ui/Verdict";
import { WayCompare } from "~/app/ui/WayCompare";
import { countText } from "~/app/ui/words";
import { apiOf } from "~/core/android/releases";
import { modelTitle } from "~/core/catalogue/model";
import { floorOf } from "~/core/catalogue/need";
import { calledAs } from "~/core/device/calledAs";
import { currentValue } from "~/core/device/lookUp";
import { acceptedWay } from "~/store/devices";
import type { Route } from "./+types/route";

export function loader({ request, params }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams;
  const batch = search.get("batch");
  const need = search.get("need") ?? "";
  const called = search.get("called");
  const compare = search.getAll("compare");
  const devices = plannedDevices(db(), batch).filter(
    (d) =>
      (d.model?.id ?? "unknown") === params.model &&
      (d.need?.id ?? "") === need &&
      (d.model || called === null || calledAs(d.facts).toLowerCase() === called),
  );
  if (devices.length === 0)
    throw notFound(`No device of ${params.model} waits for this need in this batch. Go back to Match`);
  const [{ model, need: wanted }] = devices;
  const policy = housePolicy(db());
  const alike = groupedBy(
    devices,
    ({ plan, standing }) =>
      `${plan.verdict}|${plan.says}|${plan.ways.map((w) => w.id).join()}|${acceptedWay(standing)?.id ?? ""}`,
  );
  return {
    batch: batch ?? "",
    need,
    needName: wanted?.name ?? "no need chosen",
    model: model ? { id: model.id, title: modelTitle(model) } : null,
    floors: wanted ? [{ name: wanted.name, api: floorOf(wanted).api }] : [],
    titles: imageTitles(
      devices.map((d) => d.plan),
      indexOf(db()),
    ),
    sets: [...alike.values()].map((list) => {
      const [{ plan, standing }] = list;
      const chosen = acceptedWay(standing);
      return {
        tags: list.map((d) => d.standing.tag),
        now: [
          ...new Set(
            list
              .map((d) => apiOf(currentValue(d.facts, "android.release") ?? ""))
              .filter((a): a is number => a !== null),
          ),
        ],
        verdict: plan.verdict,
        says: plan.says,
        best: plan.best?.api ?? null,
        cleaned: (plan.best?.cleaned ?? null) !== null,
        others: [...new Set(plan.ways.map((w) => w.api))],
        chosen: chosen !== null,
        ways: shownWays(plan, chosen, compare, policy),
        stops: plan.stops,
        questions: plan.questions,
      };
    }),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const reason = String(form.get("reason") ?? "");
  const { pathname, search } = new URL(request.url);
  const wrong = acceptWay(db(), form.getAll("tag").map(String), String(form.get("way") ?? ""), reason, handOf(request));
  return wrong ? data({ says: wrong, reason }, { status: 409 }) : leadOn(`${pathname}${search}`);
}

export default function MatchGroup({ loaderData, actionData }: Route.ComponentProps) {
  const { batch, need, needName, model, floors, titles, sets } = loaderData;
  return (
    <>
      <title>{`${model?.title ?? "Model not known"} · Match · Upshift Lane`}</title>
      <p className="hint">
        <Link to={`/match?batch=${batch}`}>Match</Link>
      </p>
      <h1>
        {model ? <Link to={`/models/${model.id}`}>{model.title}</Link> : "Model not known"}{" "}
        <span className="font-normal text-soft">for {needName}</span>
      </h1>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {sets.map((set) => (
        <section key={set.tags[0]} className="sheet mt-4" aria-label={`${countText(set.tags.length, "device")} alike`}>
          <div className="flex flex-wrap items-center gap-3">
            <VerdictMark verdict={set.verdict} />
            <p className="font-semibold">{set.says}</p>
          </div>
          <p className="mt-1">
            {set.tags.length > 1 ? `${set.tags.length} devices alike: ` : "Device: "}
            {set.tags.map((tag) => (
              <Link key={tag} to={`/devices/${tag}`} className="mr-2">
                {tag}
              </Link>
            ))}
          </p>
          <UpshiftChart
            compact
            title="From here to there"
            floors={floors}
            rows={[
              { key: "one", label: "this set", now: set.now, best: set.best, cleaned: set.cleaned, others: set.others },
            ]}
          />
          {set.questions.length > 0 && (
            <div className="my-2">
              <h3>Open questions</h3>
              <QuestionList questions={set.questions} tag={set.tags[0]} model={model?.id ?? null} />
            </div>
          )}
          {set.ways.side.length > 0 && (
            <>
              <PickWays
                all={set.ways.all}
                side={set.ways.side.map((s) => s.way.id)}
                titles={titles}
                keep={{ batch, need }}
              />
              <WayCompare
                ways={set.ways.side}
                titles={titles}
                deciding={set.ways.deciding}
                actions={(shown) => <Decide shown={shown} tags={set.tags} reason={actionData?.reason} />}
              />
            </>
          )}
          <details className="mt-3">
            <summary className="cursor-pointer font-semibold">Images not reached, and why ({set.stops.length})</summary>
            <Scroll label="Images not reached" className="mt-2">
              <StopList stops={set.stops} titles={titles} />
            </Scroll>
          </details>
        </section>
      ))}
    </>
  );
}
