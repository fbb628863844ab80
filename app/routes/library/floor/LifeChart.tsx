import { ComposedChart, Line, ReferenceLine, ResponsiveContainer, Scatter, XAxis, YAxis } from "recharts";

interface Props {
  readonly points: readonly { readonly year: number; readonly api: number }[];
  readonly slope: number;
  readonly intercept: number;
  readonly from: number;
  readonly to: number;
  readonly levels: readonly { readonly api: number; readonly label: string }[];
}

/** What the floor was, and the straight line through it; levels of the stock across. */
export function LifeChart({ points, slope, intercept, from, to, levels }: Props) {
  const height = 300;
  const line = [from, to].map((year) => ({ year, line: slope * year + intercept }));
  const apis = [...points.map((p) => p.api), ...levels.map((l) => l.api)];
  return (
    <div aria-hidden="true" className="overflow-hidden" style={{ height }}>
      <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 960, height }}>
        <ComposedChart accessibilityLayer={false} margin={{ left: 0, right: 16, top: 12, bottom: 4 }}>
          <XAxis type="number" dataKey="year" domain={[from, to]} allowDecimals={false} tick={{ fontSize: 12 }} />
          <YAxis
            type="number"
            domain={[Math.min(...apis) - 1, Math.max(...apis) + 2]}
            allowDecimals={false}
            allowDataOverflow
            width={34}
            tick={{ fontSize: 12 }}
          />
          {levels.map((l) => (
            <ReferenceLine
              key={l.api}
              y={l.api + 1}
              stroke="#5d5548"
              strokeDasharray="4 3"
              label={{ value: l.label, fontSize: 12, position: "insideTopLeft" }}
            />
          ))}
          <Line
            data={line}
            dataKey="line"
            name="floor"
            stroke="#12403c"
            strokeWidth={2.5}
            dot={false}
            isAnimationActive={false}
          />
          <Scatter
            data={points.map((p) => ({ year: p.year, api: p.api }))}
            dataKey="api"
            fill="#a63d12"
            isAnimationActive={false}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </div>
  );
}
