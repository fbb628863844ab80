import { Link } from "~/app/ui/Link";
import { asClause } from "~/core/catalogue/clause";
import { FACTS } from "~/core/device/fact";
import type { Stop } from "~/core/upgrade/stops";
import type { Question } from "~/core/upgrade/way";
import type { ReasonCode } from "~/core/ways/reasons";

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

/** Questions that are not answered among the facts of the device: where they are, and in which words. */
const ELSEWHERE: Partial<Record<ReasonCode, (tag: string, model: string) => { to: string; says: string }>> = {
  "clearance.open": (tag) => ({ to: `/clearance/${tag}`, says: "settle it" }),
  "firmware.not-in-order": (_, model) => ({ to: `/models/${model}/edit/firmware`, says: "put it there" }),
};

interface QuestionListProps {
  readonly questions: readonly Question[];
  readonly tag: string;
  /** The model that the device is of; null where nobody knows. */
  readonly model: string | null;
}

/** What is not known, and how to find it out. */
export function QuestionList({ questions, tag, model }: QuestionListProps) {
  return (
    <ul className="space-y-1">
      {questions.map(({ fact, code, says }) => {
        const answer = ELSEWHERE[code]?.(tag, model ?? "") ?? { to: `/devices/${tag}#facts`, says: "write it down" };
        const known = code in ELSEWHERE || code === "fact.contradicted";
        return (
          <li key={fact + code}>
            <span className="font-semibold">{says}</span>{" "}
            {!known && <span className="hint">({asClause(FACTS[fact].says)} is not known) </span>}
            <Link to={answer.to}>{answer.says}</Link>
          </li>
        );
      })}
    </ul>
  );
}
