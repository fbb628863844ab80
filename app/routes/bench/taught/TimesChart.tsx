import { Bar, BarChart, Legend, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { OperationRow } from "./queries";

/** Promised against measured minutes, an operation a pair of bars. The table beside it has the figures. */
export function TimesChart({ rows }: { rows: readonly OperationRow[] }) {
  const data = rows
    .filter((r) => r.median !== null)
    .slice(0, 8)
    .map((r) => ({ name: `${r.says}, ${r.model}`, promised: r.promised, median: r.median, fourOfFive: r.fourOfFive }));
  const height = 60 + data.length * 46;
  return (
    <div aria-hidden="true" className="overflow-hidden" style={{ height }}>
      <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 900, height }}>
        <BarChart accessibilityLayer={false} layout="vertical" data={data} margin={{ left: 8, right: 24 }}>
          <XAxis type="number" unit=" min" tick={{ fontSize: 12 }} />
          <YAxis type="category" dataKey="name" width={230} tick={{ fontSize: 12 }} />
          <Tooltip isAnimationActive={false} />
          <Legend itemSorter={null} formatter={(text) => <span style={{ color: "#25211b" }}>{text}</span>} />
          <Bar dataKey="promised" name="promised" fill="#c9ddd6" isAnimationActive={false} />
          <Bar dataKey="median" name="median" fill="#12403c" isAnimationActive={false} />
          <Bar dataKey="fourOfFive" name="four of five by" fill="#b4652a" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </div>
  );
}
