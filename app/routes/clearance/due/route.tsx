import { openDues } from "~/app/server/clearance/dues";
import { now, today } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { DueText } from "~/app/ui/DueText";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { countText, dateText } from "~/app/ui/words";
import { DUE_WORDS, DueKind } from "~/core/clearance/followUp";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { Route } from "./+types/route";

export function loader() {
  return {
    today: today(db()),
    dues: openDues(db(), now(db())).map(({ device, due }) => ({
      tag: device.standing.tag,
      donor: device.standing.donor,
      clearance: device.standing.clearance,
      due,
    })),
  };
}

/** The page where each kind of work is done, for many devices at once. */
const WHERE: Partial<Record<DueKind, string>> = {
  ask: "/letters/ask",
  "ask-issuer": "/letters/ask?kind=ask-issuer",
  remind: "/letters/ask?kind=remind",
  "remind-again": "/letters/ask?kind=remind",
};

export default function DueList({ loaderData }: Route.ComponentProps) {
  const { dues, today } = loaderData;
  const late = dues.filter((d) => d.due.daysOver >= 0);
  const kinds = DueKind.options.filter((kind) => late.some((d) => d.due.kind === kind));
  return (
    <>
      <title>Due list · Upshift Lane</title>
      <p className="hint">
        <Link to="/clearance">Clearance</Link>
      </p>
      <h1>Due list, {dateText(today)}</h1>
      <p className="hint my-2 max-w-3xl">
        The days come from the <Link to="/policy">house policy</Link>. <a href="/due.ics">Take them into a calendar</a>{" "}
        (iCalendar file, all days from today on).
      </p>
      {late.length === 0 && <p className="sheet">Nothing is due today.</p>}
      {kinds.map((kind) => {
        const own = late.filter((d) => d.due.kind === kind);
        const where = WHERE[kind];
        return (
          <section key={kind} className="sheet mt-3" aria-labelledby={kind}>
            <div className="flex flex-wrap items-baseline gap-3">
              <h2 id={kind}>{DUE_WORDS[kind]}</h2>
              <span className="hint">{countText(own.length, "device")}</span>
              {where && (
                <Link to={where} className="btn text-sm">
                  Write to all of them
                </Link>
              )}
            </div>
            <DueTable dues={own} />
          </section>
        );
      })}
      <details className="mt-5">
        <summary className="cursor-pointer font-semibold">
          Still to come ({dues.filter((d) => d.due.daysOver < 0).length})
        </summary>
        <DueTable dues={dues.filter((d) => d.due.daysOver < 0).reverse()} what />
      </details>
    </>
  );
}

function DueTable({ dues, what = false }: { dues: Route.ComponentProps["loaderData"]["dues"]; what?: boolean }) {
  return (
    <Scroll label="Devices" className="mt-1">
      <table className="rows">
        <tbody>
          {dues.map((d) => (
            <tr key={d.tag}>
              <td className="w-24">
                <Link to={`/clearance/${d.tag}`} className="font-bold whitespace-nowrap">
                  {d.tag}
                </Link>
              </td>
              <td className="w-64">
                {d.donor ? (
                  <Link to={`/donors/${encodeURIComponent(d.donor)}`}>{d.donor}</Link>
                ) : (
                  "no donor written down"
                )}
              </td>
              <td className="whitespace-nowrap">{CLEARANCE_STATES[d.clearance].says}</td>
              {what && <td>{DUE_WORDS[d.due.kind]}</td>}
              <td className="whitespace-nowrap">
                <DueText due={d.due} bare />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
