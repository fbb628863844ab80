import { Check, X } from "lucide-react";
import { historyOf, undoByForm } from "~/app/server/catalogue/entryHistory";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { floorStock } from "~/app/server/planning/floorStock";
import { catalogueOf } from "~/app/server/planning/planning";
import { EntryHistory } from "~/app/ui/EntryHistory";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { PackLink } from "~/app/ui/PackLink";
import { Pairs } from "~/app/ui/Pairs";
import { Scroll } from "~/app/ui/Scroll";
import { dateText, FORM_WORDS } from "~/app/ui/words";
import { describeRelease, RELEASES, releaseOf } from "~/core/android/releases";
import { asClause } from "~/core/catalogue/clause";
import { HARDWARE_WORDS } from "~/core/catalogue/common";
import { imageApi } from "~/core/catalogue/image";
import { type App, floorOf } from "~/core/catalogue/need";
import { usefulLife } from "~/core/catalogue/usefulLife";
import { yearOf } from "~/core/catalogue/yearOf";
import type { Route } from "./+types/route";
import { LifeChart } from "./LifeChart";

export function loader({ params }: Route.LoaderArgs) {
  const { needs, images } = catalogueOf(db());
  const need = needs.find((n) => n.id === params.id);
  if (!need) throw notFound(`There is no need ${params.id}`);
  const stock = floorStock(db(), need);
  const floor = floorOf(need);
  const systems = images.filter((i) => ["rom", "gsi", "official-update", "stock"].includes(i.kind) && !i.withdrawn);
  const present = [...stock.now.keys(), ...stock.best.keys()];
  const levels = [...new Set(present)].sort((a, b) => a - b);
  const low = Math.min(...need.apps.map((a) => a.minApi), ...present);
  const high = Math.max(floor.api, ...present, ...systems.map(imageApi));
  return {
    need,
    floor,
    stock: { devices: stock.devices, unknown: stock.unknown, rows: stock.rows },
    releases: RELEASES.filter((r) => r.api >= low && r.api <= high && r.release !== "4.4W").map((r) => ({
      api: r.api,
      release: r.release,
      now: stock.now.get(r.api) ?? 0,
      best: stock.best.get(r.api) ?? 0,
    })),
    life: levels
      .filter((api) => api >= floor.api)
      .map((api) => {
        const life = usefulLife(need.history, api);
        const of = (key: "patch" | "patchedUntil") =>
          systems.flatMap((i) => (imageApi(i) === api && i[key] ? [i[key]] : [])).sort();
        return {
          api,
          now: stock.now.get(api) ?? 0,
          best: stock.best.get(api) ?? 0,
          reach: life?.reach ?? null,
          patch: of("patch").at(-1) ?? null,
          until: of("patchedUntil").at(-1) ?? null,
        };
      }),
    fit: usefulLife(need.history, floor.api)?.fit ?? null,
    history: historyOf(db(), "need", need.id),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  return undoByForm(db(), "need", params.id, await readForm(request), handOf(request));
}

const asks = (a: App) =>
  [
    a.services && "services package",
    a.integrity && "integrity verdict",
    a.only64 && "64-bit",
    a.abis.length > 0 && `code for ${a.abis.join(", ")}`,
    ...a.hardware.map((h) => asClause(HARDWARE_WORDS[h])),
  ]
    .filter(Boolean)
    .join(", ") || "nothing more";

const yearText = (year: number) => year.toFixed(1);

export default function Floor({ loaderData, actionData }: Route.ComponentProps) {
  const { need, floor, stock, releases, life, fit, history } = loaderData;
  const [top, next] = stock.rows;
  const sorted = [...need.apps].sort((a, b) => b.minApi - a.minApi || (a.name < b.name ? -1 : 1));
  return (
    <>
      <title>{`${need.name} · App floors · Upshift Lane`}</title>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <h1>{need.name}</h1>
        <div className="flex gap-2">
          <Link to={`/floors/${need.id}/apps`} className="btn-main">
            Change the apps
          </Link>
          <Link to={`/floors/${need.id}/edit`} className="btn">
            Change the group
          </Link>
          <PackLink title={need.name} kinds={["need"]} only={need.id}>
            Save it as a pack
          </PackLink>
        </div>
      </div>
      {actionData && <Notice kind={actionData.ok ? "done" : "wrong"}>{actionData.says}</Notice>}
      <p className="my-2 text-lg">
        Floor: <strong>{describeRelease(floor.api)}</strong>, set by {floor.setBy.join(" and ")}.
        {next && (
          <span>
            {" "}
            Without {floor.setBy.length > 1 ? "them" : "it"} it would be {describeRelease(next.api)}, and{" "}
            <strong>{next.works > top.works ? `${next.works - top.works} more` : "no more"}</strong> of {stock.devices}{" "}
            devices could serve ({next.works} instead of {top.works}).
          </span>
        )}
      </p>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[3fr_2fr]">
        <section className="sheet" aria-labelledby="steps">
          <h2 id="steps">What holds the floor up</h2>
          <p className="hint">
            {stock.devices} devices wait for this need{stock.unknown > 0 && `, ${stock.unknown} of unknown release`}.
            Each line leaves out the apps of the lines above it.
          </p>
          <Scroll label="What holds the floor up">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Floor</th>
                  <th scope="col">Set by</th>
                  <th scope="col" className="n">
                    Above it now
                  </th>
                  <th scope="col" className="n">
                    A way reaches it
                  </th>
                  <th scope="col" className="n">
                    Serve the need
                  </th>
                </tr>
              </thead>
              <tbody>
                {stock.rows.map((r, i) => (
                  <tr key={r.api}>
                    <td>{describeRelease(r.api)}</td>
                    <td>
                      {r.apps.join(", ")}
                      {i > 0 && <span className="hint block">if {stock.rows[i - 1].apps.join(" and ")} may go</span>}
                    </td>
                    <td className="n">{r.above}</td>
                    <td className="n">{r.reach}</td>
                    <td className="n">{r.works}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
        </section>
        <section className="sheet self-start" aria-labelledby="group">
          <h2 id="group">The group</h2>
          <Pairs
            pairs={[
              ["For whom", need.forWhom],
              [
                "Hardware that must work",
                need.hardware.map((h) => HARDWARE_WORDS[h]).join(", ") || "none in particular",
              ],
              ["Takes", need.forms.map((f) => FORM_WORDS[f]).join(" or ")],
              ["Note", need.note || "—"],
              ["Source", `${need.source}, ${need.on}`],
            ]}
          />
        </section>
      </div>
      <section className="sheet mt-5" aria-labelledby="apps">
        <h2 id="apps">Apps and releases</h2>
        <Scroll label="Apps and releases" className="mt-1">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">App</th>
                <th scope="col">Asks for</th>
                {releases.map((r) => (
                  <th
                    key={r.api}
                    scope="col"
                    className={`text-center ${r.api === floor.api ? "bg-signal-wash" : ""}`}
                    title={describeRelease(r.api)}
                  >
                    {r.release}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {sorted.map((a) => (
                <tr key={a.name}>
                  <td className="font-semibold">{a.name}</td>
                  <td className="text-sm">{asks(a)}</td>
                  {releases.map((r) => (
                    <td key={r.api} className={`text-center ${r.api === floor.api ? "bg-signal-wash" : ""}`}>
                      {r.api >= a.minApi ? (
                        <Check size={16} className="mx-auto text-lane" aria-label="runs" />
                      ) : (
                        <X size={16} className="mx-auto text-stop" aria-label="does not run" />
                      )}
                    </td>
                  ))}
                </tr>
              ))}
              <tr>
                <th scope="row" colSpan={2}>
                  Run by release
                </th>
                {releases.map((r) => (
                  <td key={r.api} className="text-center text-sm tabular-nums">
                    {need.apps.filter((a) => a.minApi <= r.api).length} of {need.apps.length}
                  </td>
                ))}
              </tr>
              <tr>
                <th scope="row" colSpan={2}>
                  Devices there now
                </th>
                {releases.map((r) => (
                  <td key={r.api} className="text-center tabular-nums">
                    {r.now || "·"}
                  </td>
                ))}
              </tr>
              <tr>
                <th scope="row" colSpan={2}>
                  Devices whose best way ends there
                </th>
                {releases.map((r) => (
                  <td key={r.api} className="text-center tabular-nums">
                    {r.best || "·"}
                  </td>
                ))}
              </tr>
            </tbody>
          </table>
        </Scroll>
      </section>
      <section className="sheet mt-5" aria-labelledby="life">
        <h2 id="life">How long a device stays useful</h2>
        {fit === null ? (
          <p className="hint">
            {need.history.length < 2
              ? "Write down what the floor was at two or more dates (three for an error band) under “Change the group”."
              : "The floor did not rise over the dates that are written down: there is nothing to forecast."}
          </p>
        ) : (
          <>
            <p className="hint">
              A straight line through {fit.points} points: the floor rises {fit.slope.toFixed(2)} levels a year. It is
              no promise: app makers decide.{fit.points < 5 && " So few points say little."}
            </p>
            <div className="space-y-3">
              <LifeChart
                points={need.history.map((h) => ({ year: yearOf(h.on), api: h.api }))}
                slope={fit.slope}
                intercept={fit.intercept}
                from={Math.floor(Math.min(...need.history.map((h) => yearOf(h.on))))}
                to={Math.ceil(
                  Math.max(...life.map((l) => l.reach?.year ?? 0), ...need.history.map((h) => yearOf(h.on) + 1)),
                )}
                levels={life.map((l) => ({ api: l.api, label: `Android ${releaseOf(l.api)} falls` }))}
              />
              <Scroll label="When releases fall under the floor">
                <table className="rows">
                  <thead>
                    <tr>
                      <th scope="col">Release</th>
                      <th scope="col" className="n">
                        Now
                      </th>
                      <th scope="col" className="n">
                        Best way
                      </th>
                      <th scope="col">Falls under the floor</th>
                      <th scope="col">Newest patch of its images</th>
                      <th scope="col">Patches promised until</th>
                    </tr>
                  </thead>
                  <tbody>
                    {life.map((l) => (
                      <tr key={l.api}>
                        <td>{describeRelease(l.api)}</td>
                        <td className="n">{l.now}</td>
                        <td className="n">{l.best}</td>
                        <td>
                          {l.reach ? (
                            <>
                              about {yearText(l.reach.year)}
                              <span className="hint block">
                                {l.reach.from !== null && l.reach.to !== null
                                  ? `19 of 20 between ${yearText(l.reach.from)} and ${yearText(l.reach.to)}`
                                  : "no band: two points only"}
                              </span>
                            </>
                          ) : (
                            "not told"
                          )}
                        </td>
                        <td>{l.patch ? dateText(l.patch) : "—"}</td>
                        <td>
                          {l.until ? dateText(l.until) : "not recorded"}
                          {l.until && l.reach && yearOf(l.until) < l.reach.year && (
                            <span className="hint block">before the apps leave it</span>
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </Scroll>
            </div>
          </>
        )}
      </section>
      <EntryHistory {...history} />
    </>
  );
}
