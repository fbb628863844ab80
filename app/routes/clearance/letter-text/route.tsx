import { useEffect, useRef, useState } from "react";
import { data } from "react-router";
import { z } from "zod";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm, textFields } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { timeText } from "~/app/ui/words";
import {
  LETTER_VARIABLES,
  LETTER_WORDS,
  LetterKind,
  LetterTemplate,
  unknownVariables,
  writeLetter,
} from "~/core/clearance/letter";
import { LANGUAGE_WORDS, Language } from "~/core/clearance/signOut";
import { StaleEdit } from "~/store/database";
import { changesOfTemplate, readTemplates, saveTemplate } from "~/store/letters";
import { readPolicy } from "~/store/policy";
import type { Route } from "./+types/route";

/** Kind, language and plainness out of a text's name. */
function partsOf(id: string) {
  const [kind, language, plain] = id.split(".");
  return { kind: LetterKind.parse(kind), language: Language.parse(language), plain: plain === "plain" };
}

export function loader({ params, request }: Route.LoaderArgs) {
  const found = readTemplates(db()).get(params.id);
  if (!found) throw notFound(`There is no letter text ${params.id}`);
  return {
    ...found,
    ...partsOf(found.id),
    organisation: readPolicy(db()).policy.organisation,
    changes: changesOfTemplate(db(), found.id),
    saved: new URL(request.url).searchParams.has("saved"),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  if (!readTemplates(db()).has(params.id)) throw notFound(`There is no letter text ${params.id}`);
  const form = textFields(await readForm(request));
  const earlier = changesOfTemplate(db(), params.id).find((c) => form.do === `again:${c.at}`)?.doc;
  const kept = earlier
    ? (JSON.parse(earlier) as LetterTemplate)
    : { subject: form.subject ?? "", body: form.body ?? "" };
  const refuse = (wrong: { subject?: string[]; body?: string[] }, says: string | null, status: number) =>
    data({ kept, wrong, says }, { status });
  const read = LetterTemplate.safeParse(kept);
  if (form.do !== "shipped") {
    if (!read.success) return refuse(z.flattenError(read.error).fieldErrors, null, 400);
    const unknown = unknownVariables(read.data);
    if (unknown.length)
      return refuse(
        {},
        `There is nothing called ${unknown.map((v) => `{{${v}}}`).join(", ")}. What can stand there is listed below the text`,
        400,
      );
  }
  try {
    const template = form.do === "shipped" ? null : (read.data as LetterTemplate);
    saveTemplate(db(), params.id, template, Number(form.version), handOf(request));
  } catch (error) {
    if (error instanceof StaleEdit) return refuse({}, error.message, 409);
    throw error;
  }
  return leadOn(`/letters/texts/${params.id}?saved`);
}

/** Two devices that show how the steps look, whatever stands at Clearance today. */
const SAMPLE = [
  { tag: "AB-01", name: "Vista 20", api: 30, release: "11", held: true },
  { tag: "AB-02", name: "Tidepad 8", api: 28, release: "9", held: false },
];

export default function LetterText({ loaderData, actionData }: Route.ComponentProps) {
  const { id, kind, language, plain, template, version, organisation, changes, saved } = loaderData;
  const start = actionData?.kept ?? template;
  const [text, setText] = useState(start);
  // Saved, or an earlier text brought back: the page shows what stands now.
  const [seen, setSeen] = useState(version);
  if (seen !== version) {
    setSeen(version);
    setText(template);
  }
  // What was typed before the page's scripts came stands in the fields and nowhere else.
  const form = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const typed = (name: string) =>
      form.current?.querySelector<HTMLInputElement | HTMLTextAreaElement>(`[name=${name}]`)?.value;
    setText((text) => ({ subject: typed("subject") ?? text.subject, body: typed("body") ?? text.body }));
  }, []);
  const preview = writeLetter(text, {
    kind,
    language,
    plain,
    donor: "J. Sample",
    organisation,
    sender: "A. Writer",
    decideOn: language === "de" ? "25. Dezember 2026" : "25 December 2026",
    devices: SAMPLE,
  });
  return (
    <>
      <title>{`${LETTER_WORDS[kind]}, ${LANGUAGE_WORDS[language]} · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/letters/texts">Letter texts</Link>
      </p>
      <h1>
        {LETTER_WORDS[kind]}: {LANGUAGE_WORDS[language]}
        {plain ? ", plain language" : ""}
      </h1>
      {saved && !actionData && <Notice kind="done">Saved. The next letter uses it.</Notice>}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      <div ref={form} className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-2">
        <Form method="post" key={`${id}${version}`} className="sheet space-y-3 self-start">
          <input type="hidden" name="version" value={version} />
          <TextField
            label="Subject"
            name="subject"
            value={text.subject}
            wrong={actionData?.wrong.subject?.[0]}
            onChange={(e) => setText({ ...text, subject: e.target.value })}
          />
          <AreaField
            label="Text"
            name="body"
            rows={16}
            value={text.body}
            wrong={actionData?.wrong.body?.[0]}
            lang={language}
            onChange={(e) => setText({ ...text, body: e.target.value })}
          />
          <dl className="grid grid-cols-[auto_1fr] gap-x-3 text-sm">
            {Object.entries(LETTER_VARIABLES).map(([name, says]) => (
              <div key={name} className="contents">
                <dt>
                  <code>{`{{${name}}}`}</code>
                </dt>
                <dd>{says}</dd>
              </div>
            ))}
          </dl>
          <div className="flex flex-wrap gap-2">
            <button type="submit" className="btn-main">
              Save the text
            </button>
            {version > 0 && (
              <button type="submit" name="do" value="shipped" className="btn">
                Bring back the one that ships
              </button>
            )}
          </div>
          {changes.length > 0 && (
            <details className="text-sm">
              <summary className="cursor-pointer">Earlier texts ({changes.length})</summary>
              {changes.map((c) => (
                <p key={c.at} className="mt-2 whitespace-pre-wrap border-t border-rule pt-2">
                  <span className="hint">
                    {timeText(c.at)}, {c.by}
                    {"\n"}
                  </span>
                  {c.doc ? (JSON.parse(c.doc) as LetterTemplate).body : "back to the one that ships"}
                  {c.doc && (
                    <button type="submit" name="do" value={`again:${c.at}`} className="btn mt-1 px-2 py-0.5 text-sm">
                      Use this one again
                    </button>
                  )}
                </p>
              ))}
            </details>
          )}
        </Form>
        <section aria-label="Preview" className="sheet self-start" lang={language}>
          <p className="font-bold">{preview.subject}</p>
          <p className="mt-2 whitespace-pre-wrap text-sm">{preview.body}</p>
        </section>
      </div>
    </>
  );
}
