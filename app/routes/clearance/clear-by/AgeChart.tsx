import { Bar, BarChart, LabelList, ResponsiveContainer, XAxis, YAxis } from "recharts";

/** Lightest for the newest: what stands longest is the darkest. */
const FILLS = ["#c9ddd6", "#7fb0a6", "#d9a15c", "#a63d12"];

interface Props {
  readonly rows: readonly { readonly says: string; readonly ages: readonly number[] }[];
  readonly ages: readonly string[];
}

/** Open cases by state and age. The numbers stand in the table beside it for who can't see the bars. */
export function AgeChart({ rows, ages }: Props) {
  const height = 40 + rows.length * 26;
  const data = rows.map((r) => ({ says: r.says, ...Object.fromEntries(r.ages.map((n, i) => [`a${i}`, n])) }));
  return (
    <figure aria-label="Open cases by state and age">
      <ul className="drawn my-1 flex flex-wrap gap-4 text-sm" aria-hidden="true">
        {ages.map((name, i) => (
          <li key={name} className="flex items-center gap-1.5">
            <span className="size-3 border border-ink" style={{ background: FILLS[i] }} />
            {name}
          </li>
        ))}
      </ul>
      <div aria-hidden="true" className="overflow-hidden" style={{ height }}>
        <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 520, height }}>
          <BarChart
            accessibilityLayer={false}
            data={data}
            layout="vertical"
            margin={{ left: 4, right: 12, top: 4, bottom: 4 }}
          >
            <XAxis type="number" allowDecimals={false} tick={{ fontSize: 12 }} />
            <YAxis type="category" dataKey="says" width={150} tick={{ fontSize: 12 }} />
            {ages.map((name, i) => (
              <Bar
                key={name}
                dataKey={`a${i}`}
                name={name}
                stackId="age"
                fill={FILLS[i]}
                stroke="#25211b"
                strokeWidth={0.5}
                isAnimationActive={false}
              >
                <LabelList
                  dataKey={`a${i}`}
                  formatter={(n) => (Number(n) > 0 ? String(n) : "")}
                  fill={i === 3 ? "#ffffff" : "#25211b"}
                  fontSize={12}
                />
              </Bar>
            ))}
          </BarChart>
        </ResponsiveContainer>
      </div>
      <details className="text-sm">
        <summary className="cursor-pointer">As a table</summary>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">State</th>
              {ages.map((a) => (
                <th scope="col" className="n" key={a}>
                  {a}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.says}>
                <td>{r.says}</td>
                {r.ages.map((n, i) => (
                  <td className="n" key={ages[i]}>
                    {n}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
