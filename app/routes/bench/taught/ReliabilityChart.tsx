import { Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { ReliabilityBin } from "~/core/experience/promises";

/** Chances that were told against how often they held: on the dashed line every promise is worth what it says. */
export function ReliabilityChart({ bins }: { bins: readonly ReliabilityBin[] }) {
  const data = bins.map((b) => ({ promised: Math.round(b.promised * 100), kept: Math.round(b.kept * 100), of: b.of }));
  return (
    <div aria-hidden="true" className="overflow-hidden" style={{ height: 280 }}>
      <ResponsiveContainer width="100%" height={280} initialDimension={{ width: 420, height: 280 }}>
        <LineChart accessibilityLayer={false} data={data} margin={{ left: 0, right: 16, top: 12, bottom: 16 }}>
          <XAxis
            type="number"
            dataKey="promised"
            domain={[0, 100]}
            unit=" %"
            tick={{ fontSize: 12 }}
            label={{ value: "promised", position: "insideBottom", offset: -10, fontSize: 12 }}
          />
          <YAxis type="number" domain={[0, 100]} unit=" %" width={52} tick={{ fontSize: 12 }} />
          <Tooltip isAnimationActive={false} />
          <ReferenceLine
            segment={[
              { x: 0, y: 0 },
              { x: 100, y: 100 },
            ]}
            stroke="#5d5548"
            strokeDasharray="4 3"
          />
          <Line
            dataKey="kept"
            name="kept"
            stroke="#12403c"
            strokeWidth={2.5}
            dot={{ r: 4 }}
            isAnimationActive={false}
          />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}
