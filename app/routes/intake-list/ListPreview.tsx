import { Scroll } from "~/app/ui/Scroll";
import { countText } from "~/app/ui/words";
import type { ListRow } from "~/core/files/deviceList";

/** Rows shown at most; all are read, and those with problems come first. */
const SHOWN = 200;

/** What a list holds, each problem at its cell. */
export function ListPreview({ header, rows }: { header: readonly string[]; rows: readonly ListRow[] }) {
  const bad = rows.filter((r) => r.problems.length > 0);
  const shown = [...bad, ...rows.filter((r) => r.problems.length === 0)].slice(0, SHOWN);
  return (
    <section aria-labelledby="preview" className="mt-5">
      <h2 id="preview">
        {countText(rows.length, "row")}, {bad.length === 0 ? "all good" : `${bad.length} to mend`}
      </h2>
      <Scroll label="Rows of the list" className="mt-2">
        <table className="rows text-sm">
          <thead>
            <tr>
              <th scope="col" className="n">
                Line
              </th>
              {header.map((h, i) => (
                <th scope="col" key={i}>
                  {h}
                </th>
              ))}
              <th scope="col">What is wrong</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((row) => (
              <tr key={row.line} className={row.problems.length ? "bg-stop-wash" : undefined}>
                <td className="n">{row.line}</td>
                {header.map((h, i) => {
                  const wrong = row.problems.some((p) => p.column === h);
                  const remark = row.remarks.some((p) => p.column === h);
                  return (
                    <td
                      key={i}
                      className={`font-mono whitespace-nowrap ${wrong ? "font-bold text-stop underline decoration-wavy" : remark ? "font-bold text-signal" : ""}`}
                    >
                      {h.toLowerCase() === "imei" && row.cells[i] ? `…${row.cells[i].slice(-4)}` : row.cells[i]}
                    </td>
                  );
                })}
                <td>
                  {row.problems.map((p) => (
                    <p key={p.column + p.says} className="wrong">
                      {p.column}: {p.says}
                    </p>
                  ))}
                  {row.remarks.map((p) => (
                    <p key={p.column + p.says} className="text-signal">
                      {p.column}: {p.says}. The row can be taken in; look at the device again
                    </p>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      {rows.length > SHOWN && (
        <p className="hint mt-1">
          The first {SHOWN} are shown; all {rows.length} were read.
        </p>
      )}
    </section>
  );
}
