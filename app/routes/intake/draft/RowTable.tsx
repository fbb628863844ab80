import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { maskNumber } from "~/core/device/imei";
import type { Mapping } from "~/core/lists/columns";
import { columnName, type DeviceRow, MAX_SPLIT } from "~/core/lists/deviceList";

interface Props {
  readonly header: readonly string[];
  readonly mapping: Mapping;
  readonly rows: readonly (DeviceRow & { readonly cells: readonly string[] })[];
}

/** Rows with each problem at its cell, which can be mended where it stands. */
export function RowTable({ header, mapping, rows }: Props) {
  const shown = header.map((_, i) => i).filter((i) => mapping[i] !== null);
  const numbered = !mapping.includes("tag");
  return (
    <Scroll label="Rows of the list" className="mt-2">
      <table className="rows text-sm">
        <thead>
          <tr>
            <th scope="col" className="n">
              Line
            </th>
            <th scope="col">What to do</th>
            {numbered && <th scope="col">Tag (new)</th>}
            {shown.map((i) => (
              <th scope="col" key={i}>
                {header[i]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.line} className={row.problems.length ? "bg-stop-wash/60" : undefined}>
              <td className="n">{row.line}</td>
              <td className="min-w-40">
                {row.problems
                  .filter((p) => p.cell < 0)
                  .map((p) => (
                    <p key={p.says} className="wrong">
                      {p.says}
                    </p>
                  ))}
                {row.earlier && (
                  <p>
                    <Link to={`/devices/${row.earlier.tag}`}>History of {row.earlier.tag}</Link>
                  </p>
                )}
                {(row.problems.length > 0 || row.choice) && (
                  <select
                    name={`choice.${row.line}`}
                    aria-label={`What to do with line ${row.line}`}
                    defaultValue={row.choice ?? ""}
                    className="field"
                  >
                    <option value="">mend it</option>
                    {row.earlier?.left && <option value="returning">it has come back: take it in</option>}
                    {row.many > 1 && row.many <= MAX_SPLIT && (
                      <option value="split">make {row.many} lines of it</option>
                    )}
                    <option value="leave">leave it out</option>
                  </select>
                )}
              </td>
              {numbered && <td className="font-mono whitespace-nowrap">{row.tag}</td>}
              {shown.map((i) => (
                <CellBox key={i} row={row} cell={i} name={header[i]} mapping={mapping} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}

/** One cell: text where all is right, a box to mend it where not, and what is wrong under it. */
function CellBox({
  row,
  cell,
  name,
  mapping,
}: {
  row: Props["rows"][number];
  cell: number;
  name: string;
  mapping: Mapping;
}) {
  const text = row.cells[cell] ?? "";
  const wrong = row.problems.filter((p) => p.cell === cell);
  const remarks = row.remarks.filter((p) => p.cell === cell);
  const id = `w-${row.line}-${cell}`;
  if (wrong.length === 0 && remarks.length === 0) {
    const hidden = mapping[cell] === "imei" || mapping[cell] === "serial";
    return <td className="font-mono whitespace-nowrap">{hidden ? maskNumber(text) : text}</td>;
  }
  return (
    <td className="min-w-44">
      <input
        name={`cell.${row.line}.${cell}`}
        defaultValue={text}
        aria-label={`${name}, line ${row.line}`}
        aria-invalid={wrong.length > 0}
        aria-describedby={id}
        className="field font-mono text-sm"
      />
      <span id={id}>
        {wrong.map((p) => (
          <span key={p.says} className="wrong block">
            {p.says}
          </span>
        ))}
        {remarks.map((p) => (
          <span key={p.says} className="block text-sm text-signal">
            {mapping[cell] ? columnName(mapping[cell]) : name}: {p.says}. The row can be taken in all the same
          </span>
        ))}
      </span>
    </td>
  );
}
