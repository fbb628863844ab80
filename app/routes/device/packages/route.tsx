import { data } from "react-router";
import { packagesOf, takePackages } from "~/app/server/bench/packages";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { TextArea } from "~/app/ui/TextArea";
import { timeText } from "~/app/ui/words";
import { PACKAGE_WORDS } from "~/core/runbook/packagesSeen";
import { findStanding } from "~/store/devices";
import type { Route } from "./+types/route";
import { measuresOf } from "./measures";

function standingOf(tag: string) {
  const standing = findStanding(db(), tag);
  if (!standing) throw notFound(`There is no device ${tag}`);
  return standing;
}

export function loader({ params }: Route.LoaderArgs) {
  const standing = standingOf(params.tag);
  return {
    tag: standing.tag,
    lists: packagesOf(db(), standing.id),
    measures: measuresOf(db(), standing.id),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const standing = standingOf(params.tag);
  const text = String((await readForm(request)).get("text") ?? "");
  const wrong = takePackages(db(), standing, text, handOf(request));
  return wrong ? data({ says: wrong, text }, { status: 400 }) : leadOn(`/devices/${standing.tag}/packages`);
}

/** What was taken from a device's stock system, what that brought, and the way to put it back. */
export default function DevicePackages({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, lists, measures } = loaderData;
  const gone = lists.flatMap((l) => l.lines.filter((p) => p.outcome === "gone"));
  return (
    <>
      <title>{`Packages of ${tag} · Upshift Lane`}</title>
      <p className="hint">
        <Link to={`/devices/${tag}`}>{tag}</Link>
      </p>
      <h1>Packages that were taken away</h1>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {lists.length === 0 && (
        <p className="sheet my-3">
          Nothing was taken from this device. Its stock system can be cleaned where there is a list for its build:{" "}
          <Link to={`/devices/${tag}/packages/new`}>make one from what it lists</Link>.
        </p>
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="space-y-5">
          {lists.map((list) => (
            <section key={list.list} className="sheet" aria-labelledby={list.list}>
              <h2 id={list.list}>
                <Link to={`/images/${list.list}`}>{list.title}</Link>
              </h2>
              <p className="hint">
                {list.lines.filter((p) => p.outcome === "gone").length} of {list.lines.length} are gone
              </p>
              <Scroll label={list.title} className="mt-2">
                <table className="rows">
                  <thead>
                    <tr>
                      <th scope="col">What it is</th>
                      <th scope="col">Package</th>
                      <th scope="col">Now</th>
                      <th scope="col">Seen</th>
                    </tr>
                  </thead>
                  <tbody>
                    {list.lines.map((p) => (
                      <tr key={p.name}>
                        <td>{p.is}</td>
                        <td className="font-mono text-sm">{p.name}</td>
                        <td className={p.outcome === "stays" ? "text-signal" : undefined}>
                          {PACKAGE_WORDS[p.outcome]}
                        </td>
                        <td className="text-sm">{`${timeText(p.at)}, ${p.by}`}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </Scroll>
            </section>
          ))}
        </div>
        <div className="space-y-5">
          {measures.length > 0 && (
            <section className="sheet" aria-labelledby="brought">
              <h2 id="brought">What it brought</h2>
              <table className="rows mt-2">
                <thead>
                  <tr>
                    <th scope="col">Read from the device</th>
                    <th scope="col" className="n">
                      before
                    </th>
                    <th scope="col" className="n">
                      after
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {measures.map((m) => (
                    <tr key={m.what}>
                      <td>{m.what}</td>
                      <td className="n">{m.before ?? "—"}</td>
                      <td className="n">{m.after ?? "—"}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          )}
          {lists.length > 0 && (
            <section className="sheet" aria-labelledby="back">
              <h2 id="back">Put them back</h2>
              {gone.length > 0 ? (
                <>
                  <p className="mt-1">
                    With debugging on, the script puts {gone.length === 1 ? "one package" : `${gone.length} packages`}{" "}
                    back, and reads the list again. One alone:
                  </p>
                  <p className="my-2 rounded-md bg-[#25211b] p-2 text-sm text-[#f7f2e8]">
                    <code className="break-all">adb shell cmd package install-existing {gone[0].name}</code>
                  </p>
                  <a href={`/devices/${tag}/packages-back.sh`} className="btn">
                    Script that puts them back
                  </a>
                  <p className="hint mt-2">
                    It does not start any more: a factory reset in the recovery brings all back.
                  </p>
                </>
              ) : (
                <p className="mt-1">None of them is missing now.</p>
              )}
              <Form method="post" className="mt-3">
                <label className="block">
                  <span className="label">
                    Paste what <code>adb shell pm list packages</code> says now
                  </span>
                  <TextArea
                    name="text"
                    rows={4}
                    className="field font-mono text-sm"
                    spellCheck={false}
                    defaultValue={actionData?.text}
                  />
                </label>
                <button type="submit" name="act" value="seen" className="btn mt-2">
                  Compare with the list
                </button>
              </Form>
            </section>
          )}
        </div>
      </div>
    </>
  );
}
