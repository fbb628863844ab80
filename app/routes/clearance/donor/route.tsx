import { data } from "react-router";
import { z } from "zod";
import { askings } from "~/app/server/clearance/letters";
import { now } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm, textFields } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { placedDevices } from "~/app/server/planning/lane";
import { deviceName } from "~/app/server/planning/planning";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { countText, timeText } from "~/app/ui/words";
import { asClause } from "~/core/catalogue/clause";
import { CHANNEL_WORDS, Channel } from "~/core/clearance/case";
import { LETTER_WORDS } from "~/core/clearance/letter";
import { LANGUAGE_WORDS, Language } from "~/core/clearance/signOut";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { StaleEdit } from "~/store/database";
import { Contact, changesOfDonor, findDonor, saveDonor, undoDonor } from "~/store/donors";
import { lettersTo } from "~/store/letters";
import type { Route } from "./+types/route";

export function loader({ params, request }: Route.LoaderArgs) {
  const same = (name: string) => name.toLowerCase() === params.name.toLowerCase();
  return {
    donor: findDonor(db(), params.name),
    devices: placedDevices(db(), null)
      .filter((d) => same(d.standing.donor))
      .map((d) => ({
        tag: d.standing.tag,
        name: deviceName(d),
        clearance: d.standing.clearance,
      })),
    took: askings(db(), now(db())).filter((a) => same(a.donor)),
    letters: lettersTo(db(), params.name),
    changes: changesOfDonor(db(), params.name).map(({ at, by }) => ({ at, by })),
    canUndo: Boolean(changesOfDonor(db(), params.name).at(-1)?.was),
    saved: new URL(request.url).searchParams.has("saved"),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = textFields(await readForm(request));
  if (form.do === "undo") {
    const says = undoDonor(db(), params.name, handOf(request));
    return says
      ? data({ form: null, wrong: {}, says }, { status: 409 })
      : leadOn(`/donors/${encodeURIComponent(params.name)}?saved`);
  }
  const read = Contact.safeParse({
    email: (form.email ?? "").trim(),
    phone: form.phone ?? "",
    channel: form.channel,
    language: form.language,
    plain: form.plain === "yes",
  });
  if (!read.success) return data({ form, wrong: z.flattenError(read.error).fieldErrors, says: null }, { status: 400 });
  try {
    saveDonor(db(), params.name, read.data, Number(form.version), handOf(request));
  } catch (error) {
    if (error instanceof StaleEdit) return data({ form, wrong: {}, says: error.message }, { status: 409 });
    throw error;
  }
  return leadOn(`/donors/${encodeURIComponent(params.name)}?saved`);
}

export default function DonorPage({ loaderData, actionData }: Route.ComponentProps) {
  const { donor, devices, took, letters, changes, canUndo, saved } = loaderData;
  const form = actionData?.form;
  const wrong: { email?: string[]; phone?: string[] } = actionData?.wrong ?? {};
  return (
    <>
      <title>{`${donor.name} · Donor · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/clearance">Clearance</Link>
      </p>
      <h1>{donor.name}</h1>
      {saved && !actionData && <Notice kind="done">Saved.</Notice>}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {donor.erased && (
        <Notice kind="done">The contact was erased {timeText(donor.erased)}, as the house policy says.</Notice>
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-2">
        <section className="sheet self-start" aria-labelledby="contact">
          <h2 id="contact">How to reach them</h2>
          <Form method="post" key={donor.version} className="mt-2 space-y-3">
            <input type="hidden" name="version" value={donor.version} />
            <TextField
              label="E-mail"
              name="email"
              type="email"
              autoComplete="off"
              defaultValue={form?.email ?? donor.email}
              wrong={wrong.email?.[0]}
            />
            <TextField
              label="Telephone"
              name="phone"
              autoComplete="off"
              defaultValue={form?.phone ?? donor.phone}
              wrong={wrong.phone?.[0]}
            />
            <ChoiceField
              label="Best reached by"
              name="channel"
              defaultValue={form?.channel ?? donor.channel}
              options={Channel.options.map((value) => ({ value, text: CHANNEL_WORDS[value] }))}
            />
            <ChoiceField
              label="Language"
              name="language"
              defaultValue={form?.language ?? donor.language}
              options={Language.options.map((value) => ({ value, text: LANGUAGE_WORDS[value] }))}
            />
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                name="plain"
                value="yes"
                defaultChecked={form ? form.plain === "yes" : donor.plain}
              />
              Write in plain language
            </label>
            <p className="hint">
              Used for nothing but the account lock, and erased some days after the last of their cases has closed. The
              name stays with the device.
            </p>
            <button type="submit" className="btn-main">
              Save the contact
            </button>
            {canUndo && (
              <button type="submit" name="do" value="undo" formNoValidate className="btn ml-2">
                Undo the last change
              </button>
            )}
            {changes.length > 0 && (
              <p className="hint">
                Last written by {changes.at(-1)?.by}, {timeText(changes.at(-1)?.at ?? "")}
              </p>
            )}
          </Form>
        </section>
        <div className="space-y-5">
          <section className="sheet" aria-labelledby="devices">
            <h2 id="devices">{countText(devices.length, "device")}</h2>
            <ul className="mt-1 space-y-1">
              {devices.map((d) => (
                <li key={d.tag}>
                  <Link to={`/clearance/${d.tag}`} className="font-bold">
                    {d.tag}
                  </Link>{" "}
                  {d.name}: {asClause(CLEARANCE_STATES[d.clearance].says)}
                </li>
              ))}
            </ul>
            {took.length > 0 && (
              <p className="hint mt-2">
                {took
                  .map((t) => `${t.answered ? "answered after" : "asked, silent for"} ${countText(t.days, "day")}`)
                  .join("; ")}
              </p>
            )}
          </section>
          <section className="sheet" aria-labelledby="letters">
            <h2 id="letters">Letters</h2>
            {letters.length === 0 ? (
              <p className="hint">None yet.</p>
            ) : (
              <ul>
                {letters.map((l) => (
                  <li key={l.id}>
                    <Link to={`/letters/${l.id}`}>{LETTER_WORDS[l.kind]}</Link>{" "}
                    <span className="hint">
                      {timeText(l.at)}, {l.by}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </section>
        </div>
      </div>
    </>
  );
}
