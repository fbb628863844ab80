import { data } from "react-router";
import { takeLetterBack } from "~/app/server/clearance/letters";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { CopyAndPrint } from "~/app/ui/CopyAndPrint";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { LETTER_WAYS, timeText } from "~/app/ui/words";
import { findLetter } from "~/store/letters";
import type { Route } from "./+types/route";

export function loader({ params, request }: Route.LoaderArgs) {
  const letter = findLetter(db(), Number(params.id));
  if (!letter) throw notFound(`There is no letter ${params.id}. Look at the list of letters`);
  return { letter, back: new URL(request.url).searchParams.get("back") };
}

export async function action({ request, params }: Route.ActionArgs) {
  await readForm(request);
  const tags = takeLetterBack(db(), Number(params.id), handOf(request));
  return tags.length
    ? leadOn(`/letters/${params.id}?back=${tags.join(",")}`)
    : data({ says: "Every case has moved on since: this letter can't be taken back any more" }, { status: 409 });
}

export default function LetterPage({ loaderData, actionData }: Route.ComponentProps) {
  const { letter, back } = loaderData;
  return (
    <>
      <title>{`${letter.subject} · Upshift Lane`}</title>
      <p className="hint no-print">
        <Link to="/letters">Letters sent</Link>
      </p>
      <h1 className="no-print">Letter to {letter.donor}</h1>
      <p className="hint no-print">
        {LETTER_WAYS[letter.how]}
        {letter.recipient && ` (${letter.recipient})`} · {timeText(letter.at)}, {letter.by} ·{" "}
        {letter.tags.map((tag) => (
          <Link key={tag} to={`/clearance/${tag}`} className="mr-2">
            {tag}
          </Link>
        ))}
      </p>
      {back && <Notice kind="done">Taken back for {back.split(",").join(", ")}: the letter did not go out.</Notice>}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {letter.erased ? (
        <p className="sheet my-3">
          Address and text were erased {timeText(letter.erased)}, as the house policy says. That it was written stays.
        </p>
      ) : (
        <>
          <div className="no-print my-3 flex flex-wrap gap-2">
            <a href={`/letters/${letter.id}.eml`} className="btn-main">
              Open as e-mail (.eml)
            </a>
            <CopyAndPrint subject={letter.subject} body={letter.body} />
            <Form method="post">
              <button type="submit" className="btn">
                It did not go out: take back
              </button>
            </Form>
          </div>
          <article className="sheet max-w-3xl" lang={letter.language}>
            <p className="font-bold">{letter.subject}</p>
            <p className="mt-3 whitespace-pre-wrap">{letter.body}</p>
          </article>
        </>
      )}
    </>
  );
}
