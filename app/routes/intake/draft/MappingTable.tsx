import { Scroll } from "~/app/ui/Scroll";
import { maskNumber } from "~/core/device/imei";
import type { DayOrder } from "~/core/lists/cellValue";
import { COLUMN_KEYS, type Column, type Mapping } from "~/core/lists/columns";
import { columnName } from "~/core/lists/deviceList";

interface Props {
  readonly header: readonly string[];
  readonly mapping: Mapping;
  /** A few cells of every column. */
  readonly samples: readonly (readonly string[])[];
  /** What the cells of a column look like, where its heading says nothing: a person confirms it. */
  readonly looksLike: readonly (Column | null)[];
  /** Which of two numbers of a day comes first, as somebody said, by place of the column; and whether it has to be said. */
  readonly days: Readonly<Record<number, DayOrder>>;
  readonly asksDays: readonly boolean[];
}

/** What each column of the list holds, with samples from it. */
export function MappingTable({ header, mapping, samples, looksLike, days, asksDays }: Props) {
  return (
    <Scroll label="What each column holds">
      <table className="rows text-sm">
        <thead>
          <tr>
            <th scope="col">In the list</th>
            <th scope="col">Holds</th>
            <th scope="col">For example</th>
          </tr>
        </thead>
        <tbody>
          {header.map((name, i) => (
            <tr key={i}>
              <td className="font-bold">{name}</td>
              <td>
                <select
                  name={`column.${i}`}
                  aria-label={`What “${name}” holds`}
                  defaultValue={mapping[i] ?? ""}
                  className={`field ${mapping[i] ? "" : "text-soft"}`}
                >
                  <option value="">nothing we keep</option>
                  {COLUMN_KEYS.map((c) => (
                    <option key={c} value={c}>
                      {columnName(c)}
                    </option>
                  ))}
                </select>
                {asksDays[i] && (
                  <select
                    name={`days.${i}`}
                    aria-label={`In the days of “${name}”, what comes first`}
                    defaultValue={days[i] ?? ""}
                    className="field mt-1"
                  >
                    <option value="">which number is the month?</option>
                    <option value="day">the day comes first: 04/05 is the 4th of May</option>
                    <option value="month">the month comes first: 04/05 is the 5th of April</option>
                  </select>
                )}
                {looksLike[i] && (
                  <p className="text-sm text-signal">
                    Its cells look like: {columnName(looksLike[i]).toLowerCase()}. Choose it if that is so
                  </p>
                )}
              </td>
              <td className="font-mono">
                {samples[i]
                  ?.map((s) => (mapping[i] === "imei" || mapping[i] === "serial" ? maskNumber(s) : s.slice(0, 30)))
                  .join(" · ") || "—"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
