import { Scroll } from "~/app/ui/Scroll";
import { timeText } from "~/app/ui/words";
import type { FactLine } from "./queries";

/** The facts of a device: value, source, time; what it was before opens under it. */
export function FactTable({ facts }: { facts: readonly FactLine[] }) {
  if (facts.length === 0)
    return <p className="hint">Nothing is known yet. Paste a read-out, or write down what the device shows.</p>;
  return (
    <Scroll label="Facts">
      <table className="rows mt-1">
        <thead>
          <tr>
            <th scope="col">Fact</th>
            <th scope="col">Value</th>
            <th scope="col">Where from</th>
          </tr>
        </thead>
        <tbody>
          {facts.map((f) => (
            <tr key={f.key}>
              <td>{f.says}</td>
              <td className="font-semibold">
                {f.value}
                {f.contradictedBy && (
                  <span className="block text-sm text-stop">contradicted by {f.contradictedBy}: read it again</span>
                )}
              </td>
              <td className="text-sm">
                {f.source}, {f.by}, {timeText(f.at)}
                {f.older.length > 0 && (
                  <details>
                    <summary className="cursor-pointer text-soft">before ({f.older.length})</summary>
                    <ul>
                      {f.older.map((o, i) => (
                        <li key={i}>
                          {o.value} — {o.source}, {o.by}, {timeText(o.at)}
                        </li>
                      ))}
                    </ul>
                  </details>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
