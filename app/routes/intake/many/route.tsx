import { data } from "react-router";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { pageFrom } from "~/app/server/http/pages";
import { type SetMany, setMany } from "~/app/server/intake/setMany";
import { placedDevices } from "~/app/server/planning/lane";
import { catalogueOf, deviceName } from "~/app/server/planning/planning";
import { AreaField, ChoiceField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Pages } from "~/app/ui/Pages";
import { Scroll } from "~/app/ui/Scroll";
import { countText } from "~/app/ui/words";
import { PROOF_WORDS, Proof } from "~/core/clearance/proof";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { currentValue } from "~/core/device/lookUp";
import { listBatches } from "~/store/devices";
import type { Route } from "./+types/route";

/** Devices on one page. */
const PAGE = 100;

const SYSTEMS = { stock: "the maker's own system", custom: "a custom ROM", generic: "a generic system image" } as const;

export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const batches = listBatches(db());
  const batch = query.get("batch") ?? batches[0]?.id ?? "";
  const open = placedDevices(db(), batch).filter((d) => d.station !== "records" && d.station !== "aside");
  const from = pageFrom(request, open.length, PAGE);
  return {
    batches: batches.map((b) => ({ value: b.id, text: b.title })),
    batch,
    set: Number(query.get("set") ?? 0),
    page: { from, of: open.length, size: PAGE },
    needs: catalogueOf(db()).needs.map((n) => ({ value: n.id, text: n.name })),
    devices: open.slice(from, from + PAGE).map((d) => ({
      tag: d.standing.tag,
      name: deviceName(d),
      need: d.need?.name ?? "none chosen",
      clearance: CLEARANCE_STATES[d.standing.clearance].says,
      system: currentValue(d.facts, "system.kind") ?? null,
    })),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const tags = form.getAll("device").map(String);
  const evidence = String(form.get("evidence") ?? "");
  const proofs = Proof.options.filter((p) => form.getAll("proof").includes(p));
  const refuse = (says: string) =>
    data({ says, tags, evidence, proofs, need: String(form.get("need") ?? "") }, { status: 409 });
  const asked = askedFor(String(form.get("do") ?? ""), form, proofs, evidence);
  if (!asked) return refuse("Choose what is set");
  const wrong = setMany(db(), tags, asked, handOf(request));
  if (wrong) return refuse(wrong);
  return leadOn(`/many?${new URLSearchParams({ batch: String(form.get("batch") ?? ""), set: String(tags.length) })}`);
}

function askedFor(wish: string, form: FormData, proofs: Proof[], evidence: string): SetMany | null {
  if (wish === "need") return { what: "need", need: String(form.get("need") ?? "") || null };
  if (wish === "system") return { what: "system", system: String(form.get("system") ?? "") };
  return wish === "clear" ? { what: "clear", proofs, evidence } : null;
}

/** Ticks or clears every device of the form that a box stands in. */
function tickAll(box: HTMLInputElement) {
  for (const device of box.form?.querySelectorAll<HTMLInputElement>("input[name=device]") ?? [])
    device.checked = box.checked;
}

export default function Many({ loaderData, actionData }: Route.ComponentProps) {
  const { batches, batch, set, page, needs, devices } = loaderData;
  const ticked = new Set(actionData?.tags);
  return (
    <>
      <title>Many at once · Upshift Lane</title>
      <p className="hint">
        <Link to="/intake">Intake</Link>
      </p>
      <h1>Many at once</h1>
      <Form method="get" className="mt-2 flex items-end gap-2">
        <ChoiceField label="Batch" name="batch" key={batch} defaultValue={batch} options={batches} />
        <button type="submit" className="btn">
          Show
        </button>
      </Form>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      {set > 0 && <Notice kind="done">Written for {countText(set, "device")}.</Notice>}
      {devices.length === 0 ? (
        <p className="sheet mt-3">
          No device is in this batch. <Link to="/intake/list">Take in a list</Link> first.
        </p>
      ) : (
        <Form method="post" className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-[minmax(0,1fr)_22rem]">
          <input type="hidden" name="batch" value={batch} />
          <div>
            <Scroll label="Devices">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">
                      <label className="flex items-center gap-2">
                        <input
                          type="checkbox"
                          className="size-5"
                          aria-label="Tick all that are shown"
                          onChange={(e) => tickAll(e.currentTarget)}
                        />
                        For
                      </label>
                    </th>
                    <th scope="col">What it is</th>
                    <th scope="col">Need</th>
                    <th scope="col">Account lock</th>
                    <th scope="col">Runs</th>
                  </tr>
                </thead>
                <tbody>
                  {devices.map((d) => (
                    <tr key={d.tag}>
                      <td>
                        <label className="flex items-center gap-2 font-bold">
                          <input
                            type="checkbox"
                            name="device"
                            value={d.tag}
                            defaultChecked={ticked.has(d.tag)}
                            className="size-5"
                          />
                          {d.tag}
                        </label>
                      </td>
                      <td>{d.name}</td>
                      <td>{d.need}</td>
                      <td>{d.clearance}</td>
                      <td>{d.system ? SYSTEMS[d.system as keyof typeof SYSTEMS] : "not known"}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Scroll>
            <Pages {...page} what="Devices" />
          </div>
          <div className="space-y-4 self-start lg:sticky lg:top-2">
            <section className="sheet" aria-labelledby="need">
              <h2 id="need">Who waits for them</h2>
              <ChoiceField
                label="Need"
                name="need"
                defaultValue={actionData?.need}
                options={[{ value: "", text: "nobody yet" }, ...needs]}
              />
              <button type="submit" name="do" value="need" className="btn mt-2">
                Set the need
              </button>
            </section>
            <section className="sheet" aria-labelledby="system">
              <h2 id="system">What runs on them</h2>
              <ChoiceField
                label="As it was seen on each"
                name="system"
                options={Object.entries(SYSTEMS).map(([value, text]) => ({ value, text }))}
              />
              <button type="submit" name="do" value="system" className="btn mt-2">
                Set what runs
              </button>
            </section>
            <section className="sheet" aria-labelledby="clear">
              <h2 id="clear">Account lock settled</h2>
              <fieldset>
                <legend className="hint">What was seen on each of them</legend>
                {Proof.options.map((p) => (
                  <label key={p} className="mt-1 flex items-baseline gap-2">
                    <input type="checkbox" name="proof" value={p} defaultChecked={actionData?.proofs.includes(p)} />
                    {PROOF_WORDS[p]}
                  </label>
                ))}
              </fieldset>
              <AreaField
                className="mt-2"
                label="Who saw it, when, how"
                name="evidence"
                rows={2}
                defaultValue={actionData?.evidence}
                hint="It is written into the case of each device"
              />
              <button type="submit" name="do" value="clear" className="btn mt-2">
                Confirm them clear
              </button>
            </section>
          </div>
        </Form>
      )}
    </>
  );
}
