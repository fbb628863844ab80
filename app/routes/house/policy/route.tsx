import { data } from "react-router";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { AreaField, ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { OrderList } from "~/app/ui/OrderList";
import type { FollowUpPolicy } from "~/core/clearance/followUp";
import { Policy, RANK_WORDS, RankKey } from "~/core/policy/policy";
import { SCHOOL_KEYS, SCHOOLS, sideWords } from "~/core/policy/schools";
import { StaleEdit } from "~/store/database";
import { readPolicy, savePolicy } from "~/store/policy";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  return { ...readPolicy(db()), saved: new URL(request.url).searchParams.has("saved") };
}

/** Days at Clearance, in the order in which they come. */
const FOLLOW_UP: readonly { name: keyof FollowUpPolicy; label: string; hint: string }[] = [
  { name: "actWithin", label: "Look, ask and confirm within, days", hint: "Default 2." },
  { name: "remindAfter", label: "Remind after, days", hint: "Default 7, counted from the first asking." },
  { name: "remindAgainAfter", label: "Remind again after, days", hint: "Default 14." },
  { name: "decideAfter", label: "Decide after, days", hint: "Default 30: then parts or recycling under local rules." },
  {
    name: "eraseContactAfter",
    label: "Erase a donor's contact after, days",
    hint: "Default 60, counted from the day the last of their cases has closed. The law where you are comes first.",
  },
  {
    name: "deleteEvidenceAfter",
    label: "Delete photos and papers after, days",
    hint: "Default 365, counted from the day the case has closed.",
  },
];

/** The order of the aspects as a form gives it: by the number beside each; what has none comes last. */
const rankOf = (typed: Readonly<Record<string, string>> | undefined, otherwise: readonly RankKey[]): RankKey[] =>
  typed === undefined
    ? [...otherwise]
    : RankKey.options
        .map((key, i) => ({ key, place: Number(typed[`rank.${key}`] || 99) + i / 1000 }))
        .sort((a, b) => a.place - b.place)
        .map((r) => r.key);

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const kept = Object.fromEntries([...form].map(([k, v]) => [k, String(v)]));
  const read = Policy.safeParse({
    rank: rankOf(kept, []),
    ...Object.fromEntries(SCHOOL_KEYS.map((key) => [key, kept[key]])),
    priorRuns: Number(kept.priorRuns),
    batteryFloor: Number(kept.batteryFloor),
    enoughMargin: Number(kept.enoughMargin),
    sureFrom: Number(kept.sureFrom) / 100,
    followUp: Object.fromEntries(FOLLOW_UP.map(({ name }) => [name, Number(kept[name])])),
    organisation: kept.organisation,
    letterFrom: (kept.letterFrom ?? "").trim(),
    collectionPoint: kept.collectionPoint,
  });
  if (!read.success)
    return data(
      { kept, says: read.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join("; ") },
      { status: 400 },
    );
  try {
    savePolicy(db(), read.data, Number(kept.version), handOf(request));
  } catch (error) {
    if (error instanceof StaleEdit) return data({ kept, says: error.message }, { status: 409 });
    throw error;
  }
  return leadOn("/policy?saved");
}

export default function PolicyPage({ loaderData, actionData }: Route.ComponentProps) {
  const { policy, version, saved } = loaderData;
  const kept = actionData?.kept;
  return (
    <>
      <title>House policy · Upshift Lane</title>
      <h1>House policy</h1>
      <p className="hint my-2 max-w-3xl">
        Practitioners disagree on these. Each has a default and the reason for it; every plan follows what is set here.
      </p>
      {saved && !actionData && <Notice kind="done">Saved. All plans follow it now.</Notice>}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      <Form method="post" key={version} className="grid grid-cols-[minmax(0,1fr)] max-w-5xl gap-5 lg:grid-cols-2">
        <input type="hidden" name="version" value={version} />
        <section
          className="sheet grid grid-cols-[minmax(0,1fr)] content-start gap-4 lg:col-span-2 lg:grid-cols-2"
          aria-labelledby="schools"
        >
          <h2 id="schools" className="lg:col-span-2">
            Schools
          </h2>
          {SCHOOL_KEYS.map((key) => {
            const { question, sides, default: usual, why } = SCHOOLS[key];
            return (
              <ChoiceField
                key={key}
                label={question}
                name={key}
                defaultValue={kept?.[key] ?? policy[key]}
                options={sides.map((s) => ({ value: s.value, text: s.says }))}
                hint={`Default: ${sideWords(key, usual)}. Why: ${why}`}
              />
            );
          })}
          <TextField
            label="Battery floor, percent"
            name="batteryFloor"
            type="number"
            min={30}
            max={90}
            defaultValue={kept?.batteryFloor ?? policy.batteryFloor}
            hint="Default 60. Below 30 nothing is written, whatever stands here."
          />
          <TextField
            label="Good as it is from so many API levels above the floor"
            name="enoughMargin"
            type="number"
            min={0}
            max={15}
            defaultValue={kept?.enoughMargin ?? policy.enoughMargin}
            hint="Default 2: about two years before the floor catches up."
          />
          <TextField
            label="A way is sure from a chance of, percent"
            name="sureFrom"
            type="number"
            min={0}
            max={100}
            defaultValue={kept?.sureFrom ?? Math.round(policy.sureFrom * 100)}
            hint="Default 75. Below it a way is put behind surer ones."
          />
          <TextField
            label="The handbook's rates weigh as much as so many own runs"
            name="priorRuns"
            type="number"
            min={1}
            max={100}
            defaultValue={kept?.priorRuns ?? policy.priorRuns}
            hint="Default 10. After as many own runs, what the bench taught and what the handbook says count alike."
          />
        </section>
        <section className="sheet self-start" aria-labelledby="rank">
          <h2 id="rank">What ways are compared by</h2>
          <p className="hint">
            The first aspect in which two ways differ decides. Move them with the mouse; with the keyboard press space
            on a handle, then the arrow keys.
          </p>
          <OrderList name="rank" items={rankOf(kept, policy.rank).map((key) => ({ key, says: RANK_WORDS[key] }))} />
        </section>
        <section className="sheet space-y-4" aria-labelledby="follow">
          <h2 id="follow">Clearance</h2>
          {FOLLOW_UP.map(({ name, label, hint }) => (
            <TextField
              key={name}
              label={label}
              name={name}
              type="number"
              min={0}
              defaultValue={kept?.[name] ?? policy.followUp[name]}
              hint={hint}
            />
          ))}
        </section>
        <section className="sheet space-y-4 self-start" aria-labelledby="house">
          <h2 id="house">The house</h2>
          <TextField
            label="Name, as letters give it"
            name="organisation"
            defaultValue={kept?.organisation ?? policy.organisation}
          />
          <TextField
            label="E-mail address that donors answer to"
            name="letterFrom"
            type="email"
            defaultValue={kept?.letterFrom ?? policy.letterFrom}
          />
          <AreaField
            label="Collection point for dangerous devices"
            name="collectionPoint"
            rows={4}
            defaultValue={kept?.collectionPoint ?? policy.collectionPoint}
            hint="Shown wherever a device is set aside. Local rules come first."
          />
        </section>
        <div className="lg:col-span-2">
          <button type="submit" className="btn-main">
            Save the policy
          </button>
        </div>
      </Form>
    </>
  );
}
