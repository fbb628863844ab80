import { db } from "~/app/server/http/context";
import { Link } from "~/app/ui/Link";
import { LETTER_WORDS, LetterKind, templateId } from "~/core/clearance/letter";
import { LANGUAGE_WORDS, Language } from "~/core/clearance/signOut";
import { readTemplates } from "~/store/letters";
import type { Route } from "./+types/route";

export function loader() {
  return { edited: [...readTemplates(db()).values()].filter((t) => t.version > 0).map((t) => t.id) };
}

export default function LetterTexts({ loaderData }: Route.ComponentProps) {
  const { edited } = loaderData;
  return (
    <>
      <title>Letter texts · Upshift Lane</title>
      <p className="hint">
        <Link to="/clearance">Clearance</Link> · <Link to="/letters/ask">Ask many at once</Link>
      </p>
      <h1>Letter texts</h1>
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-4 md:grid-cols-3">
        {LetterKind.options.map((kind) => (
          <section key={kind} className="sheet" aria-labelledby={kind}>
            <h2 id={kind}>{LETTER_WORDS[kind]}</h2>
            <ul className="mt-1 space-y-1">
              {Language.options.flatMap((language) =>
                [false, true].map((plain) => {
                  const id = templateId(kind, language, plain);
                  return (
                    <li key={id}>
                      <Link to={`/letters/texts/${id}`}>
                        {LANGUAGE_WORDS[language]}
                        {plain ? ", plain language" : ""}
                      </Link>
                      {edited.includes(id) && <span className="hint"> (yours)</span>}
                    </li>
                  );
                }),
              )}
            </ul>
          </section>
        ))}
      </div>
    </>
  );
}
