import { useSearchParams } from "react-router";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { durationText } from "~/core/runbook/writeSheet";
import { SEEN, type SeenTrouble } from "~/core/trouble/seen";
import type { ShownTrouble } from "./trouble";

/** What can be seen here: picked, it brings the next steps. */
export function SeenPicker({
  pick,
  picked,
}: {
  readonly pick: readonly SeenTrouble[];
  readonly picked: string | null;
}) {
  const [params] = useSearchParams();
  const look = params.has("dark") ? "dark&" : "";
  return (
    <nav aria-label="Often seen here" className="mt-2">
      <ul className="grid gap-1 sm:grid-cols-2">
        {pick.map((seen) => (
          <li key={seen}>
            <Link
              to={`?${look}seen=${seen}`}
              preventScrollReset
              aria-current={picked === seen ? "true" : undefined}
              className={`block rounded-md border px-3 py-2 no-underline ${picked === seen ? "border-2 border-signal bg-signal-wash font-semibold" : "border-rule"}`}
            >
              {SEEN[seen].says}
            </Link>
          </li>
        ))}
      </ul>
    </nav>
  );
}

/** The next steps for what is seen, with the real commands, and how the run goes on behind them. */
export function TroubleSteps({ trouble, place }: { readonly trouble: ShownTrouble; readonly place: number }) {
  const { next, still } = trouble;
  return (
    <section className="my-4 rounded-md border-2 border-signal p-4" aria-labelledby="trouble">
      <h2 id="trouble">{SEEN[trouble.seen].says}</h2>
      <p className="text-lg">{trouble.is}.</p>
      {trouble.steps.length > 0 && (
        <ol className="mt-3 space-y-3">
          {trouble.steps.map((step, i) => (
            <li key={step.code} className="rounded-md border border-rule p-3">
              <p className="text-lg font-semibold">
                {i + 1}. {step.title}
              </p>
              {step.caution && <p className="font-bold text-stop">{step.caution}.</p>}
              <p>{step.says}</p>
              {step.command && (
                <code className="my-2 block rounded-md bg-[#25211b] p-2 break-all whitespace-pre-wrap text-[#f7f2e8]">
                  {step.command}
                </code>
              )}
              {step.instead.length > 0 && <p className="hint">Where that fails: {step.instead.join(", then ")}</p>}
              <p className="hint">
                Normal: {step.normal}. Otherwise: {step.otherwise}. Usual {durationText(step.usualSeconds)}.
              </p>
            </li>
          ))}
        </ol>
      )}
      <div className="mt-4 grid gap-3 md:grid-cols-2">
        <div>
          <h3>{trouble.steps.length ? "It helped" : "Then"}</h3>
          <p>{next.says}.</p>
          {next.kind === "back" && next.place < place && (
            <Form method="post" className="mt-2">
              <input type="hidden" name="place" value={place} />
              <input type="hidden" name="to" value={next.place} />
              <button type="submit" name="act" value="back-to" className="btn-main">
                Go back to step {next.place + 1}
              </button>
            </Form>
          )}
        </div>
        {trouble.steps.length > 0 && (
          <div>
            <h3>It did not</h3>
            <p>{still.says}.</p>
          </div>
        )}
      </div>
    </section>
  );
}
