import { useState } from "react";
import { data } from "react-router";
import { askGroups, decideDay } from "~/app/server/clearance/letters";
import { now } from "~/app/server/http/clock";
import { db, handOf, personOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { countText } from "~/app/ui/words";
import { LETTER_WORDS, LetterKind, templateId, writeLetter } from "~/core/clearance/letter";
import { Language } from "~/core/clearance/signOut";
import { readTemplates } from "~/store/letters";
import { readPolicy } from "~/store/policy";
import type { Route } from "./+types/route";
import { askThem } from "./act";
import { type Choice, DonorRow } from "./DonorRow";

const kindOf = (request: Request) => LetterKind.safeParse(new URL(request.url).searchParams.get("kind")).data ?? "ask";

export function loader({ request }: Route.LoaderArgs) {
  const kind = kindOf(request);
  const at = now(db());
  const { policy } = readPolicy(db());
  const all = askGroups(db(), kind, at);
  const groups = all
    .filter((g) => g.donor.name !== "")
    .map((group) => ({
      group,
      decideOn: Object.fromEntries(
        Language.options.map((l) => [l, decideDay(group, policy.followUp.decideAfter, at, l)]),
      ),
    }));
  return {
    kind,
    groups,
    nameless: all.find((g) => g.donor.name === "")?.devices.map((d) => d.tag) ?? [],
    templates: Object.fromEntries([...readTemplates(db())].map(([id, t]) => [id, t.template])),
    organisation: policy.organisation,
    sender: personOf(request),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const kind = kindOf(request);
  const sent = askThem(db(), kind, await readForm(request), handOf(request));
  return typeof sent === "string" ? data({ says: sent }, { status: 400 }) : leadOn(`/letters?sent=${sent}`);
}

export default function AskMany({ loaderData, actionData }: Route.ComponentProps) {
  const { kind, groups, nameless } = loaderData;
  return (
    <>
      <title>Ask many at once · Upshift Lane</title>
      <p className="hint">
        <Link to="/clearance">Clearance</Link>
      </p>
      <h1>{LETTER_WORDS[kind]}</h1>
      <ul className="my-3 flex flex-wrap gap-2" aria-label="Kind of letter">
        {LetterKind.options.map((k) => (
          <li key={k}>
            <Link to={`/letters/ask?kind=${k}`} className={k === kind ? "btn-main" : "btn"}>
              {LETTER_WORDS[k]}
            </Link>
          </li>
        ))}
        <li>
          <Link to="/letters/texts" className="btn">
            Letter texts
          </Link>
        </li>
      </ul>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {nameless.length > 0 && (
        <Notice kind="caution">
          No donor is written down for {nameless.join(", ")}: nobody can be asked. Write the donor on the device's page.
        </Notice>
      )}
      {groups.length === 0 ? (
        <p className="sheet max-w-3xl">
          Nobody has to be written to. Here stand donors whose device shows an account (ask), whose answer is due
          (remind), or whose device an organisation or carrier must release.
        </p>
      ) : (
        <AskForm key={kind} {...loaderData} />
      )}
    </>
  );
}

function AskForm({ kind, groups, templates, organisation, sender }: Route.ComponentProps["loaderData"]) {
  const [choices, setChoices] = useState<readonly Choice[]>(() =>
    groups.map(({ group: { donor } }) => ({
      on: donor.channel !== "email" || donor.email !== "",
      channel: donor.channel,
      language: donor.language,
      plain: donor.plain,
      held: [],
    })),
  );
  const [shown, setShown] = useState(0);
  const change = (place: number) => (next: Partial<Choice>) =>
    setChoices(choices.map((c, i) => (i === place ? { ...c, ...next } : c)));
  const chosen = choices.filter((c) => c.on).length;
  return (
    <Form method="post" className="grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[minmax(0,1fr)_24rem]">
      <div>
        <Scroll label="Donors">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Donor</th>
                <th scope="col">Devices, all in one letter</th>
                <th scope="col">How</th>
                <th scope="col">Language</th>
              </tr>
            </thead>
            <tbody>
              {groups.map(({ group }, i) => (
                <DonorRow
                  key={group.donor.name}
                  group={group}
                  place={i}
                  choice={choices[i]}
                  shown={i === shown}
                  change={change(i)}
                  look={() => setShown(i)}
                />
              ))}
            </tbody>
          </table>
        </Scroll>
        <p className="mt-3 flex items-center gap-3">
          <button type="submit" className="btn-main text-lg" disabled={chosen === 0}>
            Write to {countText(chosen, "donor")}
          </button>
          <span className="hint">
            E-mail goes to the outbox as a file for your mail program; what is told or printed is kept there too.
          </span>
        </p>
      </div>
      <LetterPreview group={groups[shown]} choice={choices[shown]} {...{ kind, templates, organisation, sender }} />
    </Form>
  );
}

/** The letter as it will go out, written in the page itself as choices are made. */
function LetterPreview({
  group: { group, decideOn },
  choice,
  kind,
  templates,
  organisation,
  sender,
}: Pick<Route.ComponentProps["loaderData"], "kind" | "templates" | "organisation" | "sender"> & {
  group: Route.ComponentProps["loaderData"]["groups"][number];
  choice: Choice;
}) {
  const language = Language.parse(choice.language);
  const letter = writeLetter(templates[templateId(kind, language, choice.plain)], {
    kind,
    language,
    plain: choice.plain,
    donor: group.donor.name,
    organisation,
    sender,
    decideOn: decideOn[language],
    devices: group.devices.map((d) => ({ ...d, held: choice.held.includes(d.tag) })),
  });
  return (
    <section aria-label="Preview" className="sheet self-start xl:sticky xl:top-4" lang={language}>
      <p className="font-bold">{letter.subject}</p>
      <p className="mt-2 whitespace-pre-wrap text-sm">{letter.body}</p>
    </section>
  );
}
