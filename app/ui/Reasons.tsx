import { Link } from "~/app/ui/Link";
import { asClause } from "~/core/catalogue/clause";
import { FACTS } from "~/core/device/fact";
import type { Stop } from "~/core/upgrade/stops";
import type { Question } from "~/core/upgrade/way";

/** Why each image is not reached: the first reason, with its stable code. */
export function StopList({ stops, titles }: { stops: readonly Stop[]; titles: Readonly<Record<string, string>> }) {
  if (stops.length === 0) return <p className="hint">Every image of this model is reached by some way.</p>;
  return (
    <table className="rows">
      <thead>
        <tr>
          <th scope="col">Image</th>
          <th scope="col">The first reason that stops it</th>
          <th scope="col">Code</th>
        </tr>
      </thead>
      <tbody>
        {stops.map((s) => (
          <tr key={s.image}>
            <td>
              <Link to={`/images/${s.image}`}>{titles[s.image] ?? s.image}</Link>
            </td>
            <td>{s.says}</td>
            <td>
              <code className="text-xs">{s.code}</code>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What is not known, and how to find it out. */
export function QuestionList({ questions, tag }: { questions: readonly Question[]; tag: string }) {
  return (
    <ul className="space-y-1">
      {questions.map((q) => (
        <li key={q.fact + q.code}>
          <span className="font-semibold">{q.says}</span>{" "}
          {q.code !== "clearance.open" && <span className="hint">({asClause(FACTS[q.fact].says)} is not known) </span>}
          <Link to={q.code === "clearance.open" ? `/clearance/${tag}` : `/devices/${tag}#facts`}>
            {q.code === "clearance.open" ? "settle it" : "write it down"}
          </Link>
        </li>
      ))}
    </ul>
  );
}
