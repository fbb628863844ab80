import { Area, ComposedChart, Line, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";

interface Point {
  readonly day: string;
  readonly expected: number;
  readonly band: readonly [number, number];
}

/** How many devices there may be by date, with the band in which four of five outcomes lie. */
export function BandChart({ points, all, certain }: { points: readonly Point[]; all: number; certain: string | null }) {
  const height = 300;
  return (
    <div aria-hidden="true" className="overflow-hidden" style={{ height }}>
      <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 900, height }}>
        <ComposedChart
          accessibilityLayer={false}
          data={[...points]}
          margin={{ left: 0, right: 16, top: 18, bottom: 4 }}
        >
          <XAxis dataKey="day" tick={{ fontSize: 12 }} minTickGap={48} />
          <YAxis domain={[0, all]} allowDecimals={false} width={40} tick={{ fontSize: 12 }} />
          <Tooltip isAnimationActive={false} />
          <ReferenceLine
            y={all}
            stroke="#5d5548"
            strokeDasharray="4 3"
            label={{ value: `all ${all}`, fontSize: 12, position: "insideTopLeft" }}
          />
          {certain && <ReferenceLine x={certain} stroke="#1d5c57" strokeDasharray="2 3" />}
          <Area
            dataKey="band"
            name="four of five outcomes"
            stroke="#7fb0a6"
            fill="#c9ddd6"
            type="stepAfter"
            isAnimationActive={false}
          />
          <Line
            dataKey="expected"
            name="expected"
            stroke="#12403c"
            strokeWidth={2.5}
            dot={false}
            type="stepAfter"
            isAnimationActive={false}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </div>
  );
}
