import { data } from "react-router";
import { today } from "~/app/server/http/clock";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf, deviceName, plannedDevice } from "~/app/server/planning/planning";
import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { currentValue } from "~/core/device/lookUp";
import { findStanding } from "~/store/devices";
import type { Route } from "./+types/route";
import { draftFor, saveList } from "./makeList";

function deviceOf(tag: string) {
  const standing = findStanding(db(), tag);
  if (!standing) throw notFound(`There is no device ${tag}`);
  return plannedDevice(db(), standing);
}

export function loader({ params }: Route.LoaderArgs) {
  const device = deviceOf(params.tag);
  const { model, facts } = device;
  const build = currentValue(facts, "build.number") ?? null;
  return {
    tag: device.standing.tag,
    name: deviceName(device),
    build,
    missing: model === null ? "its model" : build === null ? "its full build number" : null,
    lists: catalogueOf(db())
      .images.filter((i) => i.kind === "package-list" && model && i.models.includes(model.id))
      .map((i) => ({ id: i.id, title: i.title, build: i.build })),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request);
  const device = deviceOf(params.tag);
  const text = String(form.get("text") ?? "");
  const draft = draftFor(db(), device, text);
  if (typeof draft === "string") return data({ says: draft, text, draft: null, typed: {} }, { status: 400 });
  const typed = Object.fromEntries([...form].map(([k, v]) => [k, String(v)]));
  if (form.get("act") !== "save") return data({ says: "", text, draft, typed });
  const saved = saveList(db(), device, draft, form, today(db()), handOf(request));
  if (!saved.ok) return data({ says: saved.says, text, draft, typed }, { status: 400 });
  return leadOn(`/images/${saved.id}`);
}

/** A list of packages, made from what one device lists: what must stay is marked, what goes is ticked by a person. */
export default function PackagesNew({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, name, build, missing, lists } = loaderData;
  const draft = actionData?.draft ?? null;
  const typed: Readonly<Record<string, string>> = actionData?.typed ?? {};
  return (
    <>
      <title>{`A list of packages from ${tag} · Upshift Lane`}</title>
      <p className="hint">
        <Link to={`/devices/${tag}`}>{tag}</Link> · {name}
      </p>
      <h1>A list of packages, from this device</h1>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {missing && (
        <Notice kind="caution">
          Not yet: {missing} is not known, and a list belongs to one model and one build. Add it on the device's page
          first.
        </Notice>
      )}
      {lists.length > 0 && (
        <p className="my-2">
          There is one already:{" "}
          {lists.map((l) => (
            <span key={l.id} className="mr-2">
              <Link to={`/images/${l.id}`}>{l.title}</Link> <span className="hint">for {l.build}</span>
            </span>
          ))}
        </p>
      )}
      {!draft && !missing && (
        <Form method="post" className="sheet mt-3 max-w-4xl space-y-3">
          <AreaField
            label="What the device lists"
            name="text"
            rows={10}
            hint="Right after a reset: adb shell pm list packages -f -s. Paste all it prints"
            defaultValue={actionData?.text}
          />
          <button type="submit" className="btn-main">
            Look through it
          </button>
        </Form>
      )}
      {draft && (
        <Form method="post" className="sheet mt-3 space-y-3">
          <input type="hidden" name="text" value={actionData?.text} />
          <div className="grid gap-3 sm:grid-cols-2">
            <TextField label="Title" name="title" defaultValue={typed.title ?? `${name}, what may go`} />
            <TextField
              label="Short name"
              name="id"
              defaultValue={typed.id ?? draft.id}
              hint="It becomes a folder's name"
            />
          </div>
          <p>
            For build <span className="font-mono">{build}</span>. {draft.packages.length} packages;{" "}
            {draft.packages.filter((p) => p.keptBecause).length} of them must stay. Tick what goes, and say what it is:
            who comes after you has only these words.
          </p>
          {draft.notUnderstood.length > 0 && (
            <Notice kind="caution">Lines that are no package, left out: {draft.notUnderstood.join(" · ")}</Notice>
          )}
          <Scroll label="Packages">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Goes</th>
                  <th scope="col">Package</th>
                  <th scope="col">What it is</th>
                </tr>
              </thead>
              <tbody>
                {draft.packages.map((p) => (
                  <tr key={p.name}>
                    <td>
                      {p.keptBecause ? (
                        <span className="hint">stays</span>
                      ) : (
                        <input
                          type="checkbox"
                          name={`goes.${p.name}`}
                          aria-label={`${p.name} goes`}
                          defaultChecked={typed[`goes.${p.name}`] === "on"}
                          className="size-5"
                        />
                      )}
                    </td>
                    <td className="font-mono text-sm">{p.name}</td>
                    <td>
                      {p.keptBecause ?? (
                        <input
                          name={`is.${p.name}`}
                          aria-label={`What ${p.name} is`}
                          defaultValue={typed[`is.${p.name}`]}
                          className="field"
                        />
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
          <button type="submit" name="act" value="save" className="btn-main">
            Put the list into the catalogue
          </button>
        </Form>
      )}
    </>
  );
}
