import { db } from "~/app/server/http/context";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { countText, LETTER_WAYS, timeText } from "~/app/ui/words";
import { LETTER_WORDS } from "~/core/clearance/letter";
import { newestLetters } from "~/store/letters";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const sent = Number(new URL(request.url).searchParams.get("sent") ?? 0);
  return { sent, letters: newestLetters(db(), 200) };
}

export default function Letters({ loaderData }: Route.ComponentProps) {
  const { sent, letters } = loaderData;
  return (
    <>
      <title>Letters · Upshift Lane</title>
      <p className="hint">
        <Link to="/clearance">Clearance</Link>
      </p>
      <h1>Letters sent</h1>
      {sent > 0 && (
        <Notice kind="done">
          {countText(sent, "letter")} written; the cases have moved on. Open each e-mail in your mail program and send
          it, or copy or print the letter.
        </Notice>
      )}
      <p className="my-3 flex flex-wrap gap-2">
        <Link to="/letters/ask" className="btn">
          Ask many at once
        </Link>
        <Link to="/letters/texts" className="btn">
          Letter texts
        </Link>
      </p>
      {letters.length === 0 ? (
        <p className="sheet">No letter was written yet.</p>
      ) : (
        <Scroll label="Letters">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">To</th>
                <th scope="col">What</th>
                <th scope="col">Devices</th>
                <th scope="col">How</th>
                <th scope="col">By</th>
              </tr>
            </thead>
            <tbody>
              {letters.map((l) => (
                <tr key={l.id}>
                  <td className="whitespace-nowrap">{timeText(l.at)}</td>
                  <td>{l.donor}</td>
                  <td>
                    <Link to={`/letters/${l.id}`}>{l.erased ? LETTER_WORDS[l.kind] : l.subject}</Link>
                  </td>
                  <td>{l.tags.join(", ")}</td>
                  <td>
                    {LETTER_WAYS[l.how]}
                    {l.how === "outbox" && !l.erased && (
                      <>
                        {" "}
                        <a href={`/letters/${l.id}.eml`}>.eml</a>
                      </>
                    )}
                  </td>
                  <td>{l.by}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </>
  );
}
