import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { FACTS } from "~/core/device/fact";
import type { Who } from "./queries";

/** What tells the device apart, with a button for each answer; then what the users' own list says. */
export function WhoIsIt({ tag, who }: { tag: string; who: Who }) {
  const { says, distinction, known, hasList } = who;
  return (
    <section className="sheet" aria-labelledby="who">
      <h2 id="who">Who is it?</h2>
      {says && <p className="wrong">{says}</p>}
      {distinction && (
        <div>
          <p>{FACTS[distinction.fact].ask}. It shows:</p>
          <div className="mt-2 flex flex-wrap gap-2">
            {distinction.answers.map((a) => (
              <Form method="post" key={a.value}>
                <input type="hidden" name="form" value="fact" />
                <input type="hidden" name="key" value={distinction.fact} />
                <button type="submit" name="value" value={a.value} className="btn">
                  {a.value} <span className="hint">{a.models.join(" or ")}</span>
                </button>
              </Form>
            ))}
          </div>
        </div>
      )}
      {known.length > 0 && (
        <div className="mt-2">
          <p>Your list of supported devices knows it as:</p>
          <ul className="mt-1 space-y-1">
            {known.map((k) => (
              <li key={`${k.brand}${k.name}${k.device}${k.model}`} className="flex flex-wrap items-center gap-2">
                {k.brand} {k.name} <span className="font-mono">{k.model}</span>
                <Form method="post">
                  <input type="hidden" name="form" value="fact" />
                  <input type="hidden" name="key" value="model.codename" />
                  <button type="submit" name="value" value={k.device} className="btn px-2 py-0.5 text-sm">
                    code name {k.device}
                  </button>
                </Form>
              </li>
            ))}
          </ul>
        </div>
      )}
      <p className="mt-2 text-sm">
        {!distinction && (
          <>
            The catalogue does not know it.{" "}
            {known.length === 0 && (
              <>
                <Link to="/known">
                  {hasList ? "Look in your list of supported devices" : "Load a list of supported devices"}
                </Link>
                , paste a read-out below, or{" "}
              </>
            )}
          </>
        )}
        <Link to={`/models/new?tag=${tag}`}>draft a model from what is known</Link>
      </p>
    </section>
  );
}
