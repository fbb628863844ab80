import { letterTo } from "~/app/server/division/letter";
import { openPromiseTo } from "~/app/server/division/promises";
import { now as houseNow } from "~/app/server/http/clock";
import { db, notFound, personOf } from "~/app/server/http/context";
import { CopyAndPrint } from "~/app/ui/CopyAndPrint";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { useWatch } from "~/app/ui/useWatch";
import { LANGUAGE_WORDS, Language } from "~/core/clearance/signOut";
import { findGroup } from "~/store/evenings";
import { RestsOn } from "../RestsOn";
import type { Route } from "./+types/letter";
import { languageOf } from "./language";

export function loader({ params, request }: Route.LoaderArgs) {
  const group = findGroup(db(), Number(params.id));
  if (!group) throw notFound("There is no such group. Look at Groups");
  const promise = openPromiseTo(db(), group, houseNow(db()));
  const language = languageOf(request);
  const letter = letterTo(db(), group, promise, personOf(request), language);
  return { group: { id: group.id, name: group.name }, promised: promise !== null, language, letter };
}

/** What you will get, by when, how sure. */
export default function GroupLetter({ loaderData: { group, promised, language, letter } }: Route.ComponentProps) {
  useWatch("moves" in letter && letter.moves);
  return (
    <>
      <title>{`Letter to ${group.name} · Upshift Lane`}</title>
      <p className="hint no-print">
        <Link to={`/groups/${group.id}`}>{group.name}</Link>
      </p>
      <h1 className="no-print">Letter to {group.name}</h1>
      {"nothing" in letter ? (
        <p className="sheet my-3">
          {letter.nothing}. <Link to="/division">Division</Link>, <Link to={`/groups/${group.id}`}>{group.name}</Link>.
        </p>
      ) : (
        <>
          {!promised && (
            <div className="no-print">
              <Notice kind="caution">
                Nothing was promised yet: the letter says what could be promised today. Once they were told, write it
                down on the group's page.
              </Notice>
            </div>
          )}
          <div className="no-print">
            <RestsOn says={letter.restsOn} />
            {letter.moves && <p className="hint">The odds are being worked out again.</p>}
          </div>
          <nav aria-label="Language of the letter" className="no-print my-3 flex flex-wrap gap-4">
            {Language.options.map((each) => (
              <Link
                key={each}
                to={`?language=${each}`}
                aria-current={each === language ? "page" : undefined}
                className={each === language ? "font-bold" : undefined}
                lang={each}
              >
                {LANGUAGE_WORDS[each]}
              </Link>
            ))}
          </nav>
          <div className="no-print my-3 flex flex-wrap gap-2">
            <a href={`/groups/${group.id}/letter.eml?language=${language}`} className="btn-main">
              Open as e-mail (.eml)
            </a>
            <CopyAndPrint subject={letter.subject} body={letter.body} />
          </div>
          <article className="sheet max-w-3xl" lang={language}>
            <p className="font-bold">{letter.subject}</p>
            <p className="mt-3 whitespace-pre-wrap">{letter.body}</p>
          </article>
        </>
      )}
    </>
  );
}
