import { scaleLinear } from "d3-scale";
import { bytesText } from "~/app/ui/words";
import type { PartitionRoom } from "~/core/android/room";

const WIDTH = 900;
const BAR = 34;

/** Fill and pattern of a part: never by colour alone, its name stands in or under it. */
const fillOf = (name: string) =>
  /^system(_[ab])?$/.test(name)
    ? "var(--color-lane)"
    : /^(product|system_ext)/.test(name)
      ? "var(--color-check)"
      : "var(--color-soft)";

interface Part {
  readonly name: string;
  readonly bytes: number;
}

/** One bar per line: parts side by side, drawn to one scale. */
export function RoomBars({
  title,
  lines,
  limit,
}: {
  title: string;
  lines: readonly {
    readonly label: string;
    readonly parts: readonly Part[];
    readonly marks?: readonly { readonly at: number; readonly label: string }[];
  }[];
  limit: number;
}) {
  const x = scaleLinear([0, limit], [0, WIDTH]);
  const ROW = 74;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${lines.length * ROW}`} className="w-full" role="img" aria-label={title}>
      {lines.map((line, n) => {
        let at = 0;
        return (
          <g key={line.label} transform={`translate(0 ${n * ROW})`}>
            <text x={0} y={13} fontSize={14} fontWeight={600} fill="var(--color-ink)">
              {line.label}
            </text>
            <rect x={0.5} y={20} width={WIDTH - 1} height={BAR} fill="var(--color-paper)" stroke="var(--color-rule)" />
            {line.parts.map((part) => {
              const from = x(at);
              at += part.bytes;
              const width = Math.max(0, Math.min(x(at), WIDTH) - from);
              return (
                <g key={part.name}>
                  <rect
                    x={from}
                    y={20}
                    width={Math.max(0, width - 1)}
                    height={BAR}
                    fill={fillOf(part.name)}
                    fillOpacity={0.9}
                  />
                  {width > part.name.length * 8 && (
                    <text x={from + 6} y={41} fontSize={13} fill="white">
                      {part.name}
                    </text>
                  )}
                </g>
              );
            })}
            {line.marks?.map((mark, i) => {
              const to = Math.min(x(mark.at), WIDTH - 1);
              const right = to > WIDTH * 0.7;
              return (
                <g key={mark.label}>
                  <line
                    x1={to}
                    x2={to}
                    y1={16}
                    y2={20 + BAR + 4}
                    stroke="var(--color-signal)"
                    strokeWidth={2.5}
                    strokeDasharray={i ? "4 3" : undefined}
                  />
                  <text
                    x={to + (right ? -5 : 5)}
                    y={i ? 13 : 67}
                    textAnchor={right ? "end" : "start"}
                    fontSize={12}
                    fill="var(--color-signal)"
                  >
                    {mark.label}
                  </text>
                </g>
              );
            })}
          </g>
        );
      })}
    </svg>
  );
}

/** Parts of the super partition (or of the fixed partitions that count here), the largest first. */
export function partsOf(room: PartitionRoom): Part[] {
  const shown = room.partitions.some((p) => p.logical)
    ? room.partitions.filter((p) => p.logical && p.bytes > 0)
    : room.partitions.filter((p) => /^(system|vendor|product|odm|cache)(_[ab])?$/.test(p.name));
  return [...shown].sort((a, b) => b.bytes - a.bytes).map(({ name, bytes }) => ({ name, bytes }));
}

export const partsText = (parts: readonly Part[]) => parts.map((p) => `${p.name} ${bytesText(p.bytes)}`).join(", ");
