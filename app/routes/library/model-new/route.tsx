import { data } from "react-router";
import { today } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { givenBack, MAX_PASTED, readForm, textFields } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { takeReadOut } from "~/app/server/intake/takeReadOut";
import { catalogueOf, plannedDevice } from "~/app/server/planning/planning";
import { AreaField, ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { draftModel, type ModelDraft, modelOfDraft, withoutMaker } from "~/core/catalogue/draftModel";
import { FACET_WORDS } from "~/core/catalogue/facets";
import { FLASH_WORDS, Model } from "~/core/catalogue/model";
import { currentFacts } from "~/core/device/lookUp";
import { saveEntry } from "~/store/catalogue";
import type { Hand } from "~/store/database";
import { findStanding } from "~/store/devices";
import { type KnownDevice, knownAs } from "~/store/known";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const tag = new URL(request.url).searchParams.get("tag") ?? "";
  const standing = findStanding(db(), tag);
  const draft = draftModel(standing ? plannedDevice(db(), standing).facts : currentFacts([]));
  // The users' own list may know who made it and what stands behind the model number, else behind the name: one match fills
  // in what is missing, several are for a person to choose from.
  const matches = distinct(
    [draft.modelNumber, draft.name].map((name) => knownAs(db(), name)).find((found) => found.length) ?? [],
  );
  const picked = new URL(request.url).searchParams.get("known");
  const known = matches.length === 1 ? matches[0] : matches.find((m) => matchId(m) === picked);
  return {
    tag: standing?.tag ?? null,
    draft: known
      ? {
          ...draft,
          maker: known.brand || draft.maker,
          name: withoutMaker(draft.name || known.name, known.brand),
          codename: draft.codename || known.device,
        }
      : draft,
    known: known ? `${known.brand} ${known.name}, ${known.device}` : null,
    matches: known ? [] : matches.map((m) => ({ id: matchId(m), says: `${m.brand} ${m.name}, ${m.device}` })),
  };
}

const matchId = (m: KnownDevice) => `${m.brand}|${m.name}|${m.device}`;
const distinct = (found: readonly KnownDevice[]) => [...new Map(found.map((m) => [matchId(m), m])).values()];

const FIELD_OF: Record<string, keyof ModelDraft> = {
  names: "name",
  modelNumbers: "modelNumber",
  id: "name",
  room: "roomSystem",
  unlock: "unlockPossible",
};

export async function action({ request }: Route.ActionArgs) {
  const sent = await readForm(request, { most: MAX_PASTED * 1.2 });
  if (sent.has("text")) return takeIn(String(sent.get("tag") ?? ""), String(sent.get("text")), handOf(request));
  const form: Record<string, string> = { ...draftModel(new Map()), ...textFields(sent) };
  const draft = form as unknown as ModelDraft;
  const source = form.tag ? `Drafted from ${form.tag}; to be checked against the maker's page` : "Drafted by hand";
  const read = Model.safeParse(modelOfDraft(draft, source, today(db())));
  if (!read.success) {
    const wrong: Record<string, string> = {};
    for (const issue of read.error.issues) {
      const [first] = issue.path.map(String);
      wrong[FIELD_OF[first] ?? first] ??= ["invalid_type", "invalid_value"].includes(issue.code)
        ? "This must be known"
        : issue.message;
    }
    return data(
      { form, wrong, says: "Some of it must be known before the model can be planned with" },
      { status: 400 },
    );
  }
  const taken = catalogueOf(db()).models.find((m) => m.id === read.data.id);
  if (taken)
    return data(
      { form, wrong: { name: "There is a model of this maker and name already" }, says: "Nothing was written" },
      { status: 409 },
    );
  saveEntry(db(), "model", read.data, 0, handOf(request));
  return leadOn(`/models/${read.data.id}`);
}

/** Writes a read-out to the device, and leads back to the draft that is made of it. */
function takeIn(tag: string, text: string, hand: Hand) {
  const standing = findStanding(db(), tag);
  const wrong = standing ? takeReadOut(db(), standing, text, hand) : `There is no device ${tag}`;
  if (wrong) return data({ form: null, text: givenBack(text), wrong: {}, says: wrong }, { status: 400 });
  return leadOn(`/models/new?${new URLSearchParams({ tag })}`);
}

const YES_NO = [
  { value: "", text: "not known" },
  { value: "yes", text: "yes" },
  { value: "no", text: "no" },
];

const FIELDS: readonly {
  name: keyof ModelDraft;
  label: string;
  hint?: string;
  options?: { value: string; text: string }[];
}[] = [
  { name: "maker", label: "Maker" },
  { name: "name", label: "Market name" },
  { name: "modelNumber", label: "Model numbers", hint: "Several with commas" },
  { name: "codename", label: "Code name" },
  { name: "board", label: "Board" },
  {
    name: "form",
    label: "Form",
    options: [
      { value: "", text: "not known" },
      { value: "phone", text: "phone" },
      { value: "tablet", text: "tablet" },
      { value: "box", text: "box (beside a screen)" },
    ],
  },
  { name: "launchApi", label: "Sold with Android", hint: "Like 9 or 8.1" },
  { name: "screen", label: "Screen" },
  {
    name: "cpu",
    label: "CPU type",
    options: [
      { value: "", text: "not known" },
      { value: "arm64", text: "arm64" },
      { value: "arm", text: "arm" },
    ],
  },
  {
    name: "flash",
    label: "Flashed through",
    options: [YES_NO[0], ...Object.entries(FLASH_WORDS).map(([value, text]) => ({ value, text }))],
  },
  {
    name: "binder",
    label: "Binder of its kernel",
    hint: "Matters on 32-bit processors; uname -m says aarch64 where it is 64-bit",
    options: [YES_NO[0], ...Object.entries(FACET_WORDS.binder).map(([value, text]) => ({ value, text }))],
  },
  { name: "systemAsRoot", label: "Root folder inside the system partition", options: YES_NO },
  { name: "treble", label: "Vendor interface (Treble)", options: YES_NO },
  { name: "slots", label: "Two slots", options: YES_NO },
  { name: "userspaceFastboot", label: "Userspace fastboot", options: YES_NO },
  { name: "logical", label: "System inside a super partition", options: YES_NO },
  { name: "roomSystem", label: "Room for the system partition, bytes" },
  { name: "unlockPossible", label: "Bootloader can be unlocked", options: YES_NO },
  { name: "firmware", label: "Firmware versions, oldest first", hint: "Several with commas" },
];

export default function ModelNew({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, draft, known, matches } = loaderData;
  const kept = (actionData?.form ?? draft) as ModelDraft;
  const wrong: Record<string, string> = actionData?.wrong ?? {};
  return (
    <>
      <title>Draft a model · Upshift Lane</title>
      <p className="hint">
        <Link to="/models">Models</Link>
      </p>
      <h1>Draft a model {tag && <span className="font-normal text-soft">from what is known of {tag}</span>}</h1>
      <p className="hint my-2 max-w-3xl">
        What stands here was read or typed before; nothing was guessed.
        {known && ` Your list of supported devices has it as ${known}.`} Check it against the maker's page: plans rest
        on it. What nobody knows stays empty: each device is asked for it before anything is written to it.
      </p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      {matches.length > 0 && (
        <section className="sheet mb-3 max-w-4xl" aria-labelledby="matches">
          <h2 id="matches">Your list of supported devices knows {matches.length} of this number or name</h2>
          <ul className="mt-1 list-disc pl-5">
            {matches.map((m) => (
              <li key={m.id}>
                <Link to={`/models/new?${new URLSearchParams({ tag: tag ?? "", known: m.id })}`}>{m.says}</Link>
              </li>
            ))}
          </ul>
          <p className="hint">Take the one whose code name the device itself tells.</p>
        </section>
      )}
      {tag && (
        <Form method="post" className="sheet mb-3 max-w-4xl space-y-2">
          <input type="hidden" name="tag" value={tag} />
          <AreaField
            label={`What ${tag} says of itself: “adb shell getprop”, or “fastboot getvar all”`}
            name="text"
            rows={4}
            mono
            required
            defaultValue={actionData?.form === null ? actionData.text : undefined}
            hint="Paste all of it. It is written to the device and fills in what it tells of the model below"
          />
          <button type="submit" className="btn">
            Read it
          </button>
        </Form>
      )}
      <Form
        method="post"
        key={JSON.stringify(draft)}
        className="sheet grid max-w-4xl grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-2"
      >
        <input type="hidden" name="tag" value={tag ?? ""} />
        {FIELDS.map(({ name, label, hint, options }) =>
          options ? (
            <ChoiceField
              key={name}
              label={label}
              name={name}
              options={options}
              defaultValue={kept[name]}
              wrong={wrong[name]}
            />
          ) : (
            <TextField key={name} label={label} name={name} hint={hint} defaultValue={kept[name]} wrong={wrong[name]} />
          ),
        )}
        <div className="sm:col-span-2">
          <button type="submit" className="btn-main">
            Put it into the catalogue
          </button>
        </div>
      </Form>
    </>
  );
}
