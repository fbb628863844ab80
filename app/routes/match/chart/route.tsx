import { db, notFound } from "~/app/server/http/context";
import { keptBy } from "~/app/server/planning/keptBy";
import { catalogueOf, type PlannedDevice, plannedDevices } from "~/app/server/planning/planning";
import { ChoiceField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { UpshiftChart, UpshiftLegend } from "~/app/ui/UpshiftChart";
import { VERDICTS, VerdictMark } from "~/app/ui/Verdict";
import { countText } from "~/app/ui/words";
import { floorOf } from "~/core/catalogue/need";
import { rankQuestions, type Verdict } from "~/core/upgrade/plan";
import { listBatches } from "~/store/devices";
import type { Route } from "./+types/route";
import { groupDevices, type MatchGroup, sortGroups } from "./groups";

/** Groups on one page; the chart draws the first of them. */
const PAGE = 40;
const CHART_ROWS = 20;

// A list of devices stays the same one until something is written: what is drawn of it too.
const groupsOf = keptBy(groupDevices);
const questionsOf = keptBy((devices: readonly PlannedDevice[]) =>
  rankQuestions(devices.map((d) => d.plan)).slice(0, 3),
);

export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const batches = listBatches(db()).map((b) => ({ value: b.id, text: b.title }));
  const batch = params.get("batch") ?? batches[0]?.value ?? "";
  if (params.has("batch") && batch && !batches.some((b) => b.value === batch))
    throw notFound(`There is no batch ${batch}. Choose one on Match`);
  const need = params.get("need") ?? "";
  const verdict = params.get("verdict") ?? "";
  const inBatch = plannedDevices(db(), batch);
  const planned =
    need || verdict
      ? inBatch.filter((d) => (!need || d.need?.id === need) && (!verdict || d.plan.verdict === verdict))
      : inBatch;
  const needs = catalogueOf(db()).needs;
  const sort = params.get("sort") ?? "model";
  const groups = sortGroups(groupsOf(planned), sort);
  const pages = Math.max(1, Math.ceil(groups.length / PAGE));
  const page = Math.min(pages, Math.max(1, Math.floor(Number(params.get("page"))) || 1));
  return {
    sort,
    page,
    pages,
    total: groups.length,
    batches,
    batch,
    need,
    verdict,
    devices: planned.length,
    needs: needs.map((n) => ({ value: n.id, text: n.name })),
    floors: needs.filter((n) => !need || n.id === need).map((n) => ({ name: n.name, api: floorOf(n).api })),
    groups: groups.slice((page - 1) * PAGE, page * PAGE),
    questions: questionsOf(planned),
  };
}

export default function Match({ loaderData }: Route.ComponentProps) {
  const { batches, batch, need, verdict, needs, floors, groups, devices, questions, sort, page, pages, total } =
    loaderData;
  const sorted = (by: string) => `/match?${new URLSearchParams({ batch, need, verdict, sort: by })}`;
  return (
    <>
      <title>Match · Upshift Lane</title>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h1>Match</h1>
        <Form method="get" className="flex flex-wrap items-end gap-2">
          <ChoiceField label="Batch" name="batch" defaultValue={batch} options={batches} />
          <ChoiceField
            label="Need"
            name="need"
            defaultValue={need}
            options={[{ value: "", text: "all needs" }, ...needs]}
          />
          <ChoiceField
            label="Verdict"
            name="verdict"
            defaultValue={verdict}
            options={[
              { value: "", text: "all" },
              ...Object.entries(VERDICTS).map(([value, v]) => ({ value, text: v.word })),
            ]}
          />
          <button type="submit" className="btn">
            Show
          </button>
        </Form>
      </div>
      {groups.length === 0 ? (
        <p className="sheet mt-4">
          No device here. <Link to="/intake/list">Take in a list</Link>, or show all needs and verdicts.
        </p>
      ) : (
        <>
          <section className="sheet mt-3 pt-2" aria-label="Upshift chart">
            <UpshiftChart
              title="Upshift chart"
              floors={floors}
              rows={groups.slice(0, CHART_ROWS).map((g) => ({
                key: g.key,
                label: g.title,
                note: `× ${g.devices} · ${g.needName}`,
                href: hrefOf(g, batch),
                now: g.now,
                best: g.best,
                cleaned: g.cleaned,
                others: g.others,
              }))}
            />
            <UpshiftLegend />
            {groups.length > CHART_ROWS && (
              <p className="hint">
                The first {CHART_ROWS} groups of this page are drawn; choose a need or a verdict to see others.
              </p>
            )}
          </section>
          {questions.length > 0 && (
            <p className="mt-3">
              <span className="font-semibold">Would decide most: </span>
              {questions.map((q) => `${q.question.says} (${countText(q.devices, "device")})`).join(" · ")}
            </p>
          )}
          <Scroll label="Groups" className="mt-3">
            <table className="rows">
              <caption className="text-left text-soft">
                {countText(devices, "device")} in {countText(total, "group")}
              </caption>
              <thead>
                <tr>
                  <SortHead by="model" text="Model" sort={sort} to={sorted} />
                  <SortHead by="need" text="Need" sort={sort} to={sorted} />
                  <SortHead by="devices" text="Devices" sort={sort} to={sorted} right />
                  <SortHead by="verdict" text="Verdict" sort={sort} to={sorted} />
                  <th scope="col">Best way</th>
                  <th scope="col" className="n">
                    Accepted
                  </th>
                </tr>
              </thead>
              <tbody>
                {groups.map((g) => (
                  <tr key={g.key}>
                    <td>
                      <Link to={hrefOf(g, batch)} className="font-bold">
                        {g.title}
                      </Link>
                      <span className="hint block">
                        {g.tags}
                        {g.devices > 3 ? " …" : ""}
                      </span>
                    </td>
                    <td>{g.needName}</td>
                    <td className="n">{g.devices}</td>
                    <td className="space-y-1">
                      {g.verdicts.map(([v, n]) => (
                        <div key={v}>
                          <VerdictMark verdict={v as Verdict} count={g.devices > 1 ? n : undefined} />
                        </div>
                      ))}
                    </td>
                    <td>
                      {g.bestSays}
                      {g.draftFrom && (
                        <Link to={`/models/new?tag=${g.draftFrom}`} className="block">
                          Draft the model from {g.draftFrom}
                        </Link>
                      )}
                    </td>
                    <td className="n">{g.accepted ? `${g.accepted} of ${g.devices}` : "—"}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
          {pages > 1 && (
            <nav aria-label="Pages" className="mt-3 flex flex-wrap gap-2">
              {Array.from({ length: pages }, (_, i) => (
                <Link
                  key={i}
                  to={`/match?${new URLSearchParams({ batch, need, verdict, sort, page: String(i + 1) })}`}
                  className={page === i + 1 ? "btn-main" : "btn"}
                  aria-current={page === i + 1 ? "page" : undefined}
                >
                  {i + 1}
                </Link>
              ))}
            </nav>
          )}
        </>
      )}
    </>
  );
}

const hrefOf = ({ model, need, called }: Pick<MatchGroup, "model" | "need" | "called">, batch: string) =>
  `/match/${model}?${new URLSearchParams({ batch, need: need ?? "", ...(called === null ? {} : { called }) })}`;

/** A column head that sorts by its column; the order stays in the address. */
function SortHead({
  by,
  text,
  sort,
  to,
  right,
}: {
  by: string;
  text: string;
  sort: string;
  to: (by: string) => string;
  right?: boolean;
}) {
  return (
    <th
      scope="col"
      className={right ? "n" : undefined}
      aria-sort={sort === by ? (by === "devices" ? "descending" : "ascending") : undefined}
    >
      <Link to={to(by)} preventScrollReset className="text-soft">
        {text}
        {sort === by && <span aria-hidden="true"> {by === "devices" ? "▾" : "▴"}</span>}
      </Link>
    </th>
  );
}
