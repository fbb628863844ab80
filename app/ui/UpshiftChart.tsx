import { scaleLinear } from "d3-scale";
import { RELEASES } from "~/core/android/releases";
import { Scroll } from "./Scroll";

/** One row of the upshift chart: where a device or group stands, where the best way takes it, where others would. */
export interface UpshiftRow {
  readonly key: string;
  readonly label: string;
  readonly note?: string;
  readonly href?: string;
  /** API levels the devices run now, each once. */
  readonly now: readonly number[];
  readonly best: number | null;
  readonly others: readonly number[];
  /** The best way cleans the stock system: the release does not move for it, so it has a mark of its own. */
  readonly cleaned?: boolean;
}

export interface UpshiftFloor {
  readonly api: number;
  readonly name: string;
}

/** Sizes of one drawing of the chart, in pixels. */
interface Layout {
  readonly width: number;
  /** Room for row labels at the left; 0 puts them above their row, or leaves them out. */
  readonly labels: number;
  readonly row: number;
  readonly labelled: boolean;
  readonly tick: number;
}

const WIDE: Layout = { width: 1000, labels: 336, row: 30, labelled: true, tick: 13 };
const NARROW: Layout = { width: 336, labels: 0, row: 44, labelled: true, tick: 10 };
const SMALL: Layout = { width: 460, labels: 0, row: 30, labelled: false, tick: 13 };

/** Width of a letter of a floor's name, and height of a label above its row, pixels. */
const LETTER = 6.4;
const LABEL_BAND = 21;

interface ChartProps {
  readonly rows: readonly UpshiftRow[];
  readonly floors: readonly UpshiftFloor[];
  readonly title: string;
}

/**
 * The upshift chart: releases from left to right, a hollow mark where a device is, a solid one where the best way takes
 * it, faint ones for other ways; upright lines are the app floors. Small for one device; for many, drawn twice: wide, and
 * with the labels above the rows for a narrow screen.
 */
export function UpshiftChart({ compact = false, ...props }: ChartProps & { compact?: boolean }) {
  if (compact)
    return (
      <Scroll label={props.title}>
        <Drawing {...props} layout={SMALL} />
      </Scroll>
    );
  return (
    <>
      <Scroll label={props.title} className="hidden min-[800px]:block">
        <Drawing {...props} layout={WIDE} />
      </Scroll>
      <div className="min-[800px]:hidden">
        <Drawing {...props} layout={NARROW} />
      </div>
    </>
  );
}

function Drawing({ rows, floors, title, layout }: ChartProps & { layout: Layout }) {
  const all = [
    ...rows.flatMap((r) => [...r.now, ...r.others, ...(r.best === null ? [] : [r.best])]),
    ...floors.map((f) => f.api),
  ];
  if (all.length === 0) return null;
  const { width, labels, row: step, labelled, tick } = layout;
  const above = labelled && labels === 0;
  const spreadNames = spread(floors);
  const highest = Math.max(0, ...spreadNames.map((f) => f.lift));
  // Names that end at their line must stand the other way round, or the next line runs through them.
  const lifted = above ? spreadNames.map((f) => ({ ...f, lift: highest - f.lift })) : spreadNames;
  const top = 45 + 13 * (Math.max(-1, ...lifted.map((f) => f.lift)) + 1);
  const low = Math.max(1, Math.min(...all) - 1);
  const high = Math.min(37, Math.max(...all) + 1);
  const height = top + Math.max(1, rows.length) * step + 10;
  const across = scaleLinear([low, high], [labels + 16, width - (labels ? 24 : 16)]);
  const x = (api: number) => Math.round(across(api) * 10) / 10;
  // A name that would be cut at the right edge ends at its line.
  const names = lifted.map((f) => ({ ...f, ends: above || x(f.api - 0.5) + 8 + f.name.length * LETTER > width }));
  // Lines stay clear of labels that stand above their row.
  const bands: readonly (readonly [number, number])[] = above
    ? rows.map((_row, i) => [top + i * step + LABEL_BAND, top + (i + 1) * step])
    : [[top - 6, height - 6]];
  const ticks = RELEASES.filter((r) => r.api >= low && r.api <= high);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      className={above ? "h-auto w-full font-sans" : "max-w-none font-sans"}
      role={rows.some((r) => r.href) ? "group" : "img"}
      aria-label={`${title}. ${rows.map(rowText).join(". ")}`}
    >
      {/* One path for many lines: such a page is drawn on the server each time. */}
      <path d={ticks.map((t) => upright(x(t.api), bands)).join("")} stroke="var(--color-rule)" />
      <path
        d={rows.map((_row, i) => `M0 ${top + (i + 1) * step}H${width}`).join("")}
        stroke="var(--color-rule)"
        strokeWidth="0.6"
      />
      {ticks.map((t) => (
        <g key={t.api}>
          <text x={x(t.api)} y={top - 24} textAnchor="middle" fontSize={tick} fontWeight="700" fill="var(--color-ink)">
            {t.release}
          </text>
          <text x={x(t.api)} y={top - 11} textAnchor="middle" fontSize={tick - 2} fill="var(--color-soft)">
            {t.api}
          </text>
        </g>
      ))}
      {labels > 0 && (
        <>
          <text x={labels - 8} y={top - 24} textAnchor="end" fontSize="11.5" fill="var(--color-soft)">
            Android release
          </text>
          <text x={labels - 8} y={top - 11} textAnchor="end" fontSize="10.5" fill="var(--color-soft)">
            API level
          </text>
        </>
      )}
      {names.map((f) => (
        <g key={f.name}>
          <path
            d={upright(x(f.api - 0.5), [[16 + f.lift * 13, top - 6], ...bands])}
            stroke="var(--color-signal)"
            strokeWidth="2"
            strokeDasharray="5 4"
          />
          <text
            x={x(f.api - 0.5) + (f.ends ? -5 : 5)}
            y={13 + f.lift * 13}
            textAnchor={f.ends ? "end" : "start"}
            fontSize="11.5"
            fontWeight="600"
            fill="var(--color-signal)"
          >
            {f.name}
          </text>
        </g>
      ))}
      {rows.map((row, i) => {
        const y = top + i * step + (above ? step - 14 : step / 2);
        const from = row.now.length ? Math.min(...row.now) : null;
        return (
          <g key={row.key}>
            {from !== null && row.best !== null && row.best !== from && (
              <line x1={x(from)} x2={x(row.best)} y1={y} y2={y} stroke="var(--color-lane)" strokeWidth="2.5" />
            )}
            {row.others
              .filter((api) => api !== row.best && !row.now.includes(api))
              .map((api) => (
                <circle key={api} cx={x(api)} cy={y} r="5" fill="#b9b09d" />
              ))}
            {row.best !== null && row.cleaned && <CleanedMark x={x(row.best)} y={y} />}
            {row.best !== null && <circle cx={x(row.best)} cy={y} r="7.5" fill="var(--color-lane)" />}
            {row.now.map((api) => (
              <circle
                key={api}
                cx={x(api)}
                cy={y}
                r="5.5"
                fill={api === row.best ? "var(--color-lane)" : "var(--color-sheet)"}
                stroke={api === row.best ? "var(--color-sheet)" : "var(--color-ink)"}
                strokeWidth="2"
              />
            ))}
            {labelled && (
              <text
                x={above ? 2 : labels - 8}
                y={above ? y - 14 : y + 4.5}
                textAnchor={above ? "start" : "end"}
                fontSize="13.5"
                fill="var(--color-ink)"
                style={{ paintOrder: "stroke" }}
                stroke="var(--color-sheet)"
                strokeWidth={above ? 4 : 0}
              >
                <RowLabel row={row} />
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** Upright lines at one place, as a path. */
const upright = (x: number, bands: readonly (readonly [number, number])[]) =>
  bands.map(([from, to]) => `M${x} ${from}V${to}`).join("");

/** A frame around the mark: the system stays, and becomes lighter. */
const CleanedMark = ({ x, y }: { readonly x: number; readonly y: number }) => (
  <rect x={x - 11} y={y - 11} width="22" height="22" rx="5" fill="none" stroke="var(--color-lane)" strokeWidth="2" />
);

function RowLabel({ row }: { row: UpshiftRow }) {
  const text = (
    <>
      <tspan fontWeight="700">{row.label}</tspan>
      {row.note && <tspan fill="var(--color-soft)"> {row.note}</tspan>}
    </>
  );
  return row.href ? (
    <a href={row.href} style={{ fill: "var(--color-lane-deep)" }}>
      {text}
    </a>
  ) : (
    text
  );
}

/** Releases between two names at one height. */
const NAMES_APART = 4;

/** Floors close together get their names one above the other. */
function spread(floors: readonly UpshiftFloor[]) {
  const byApi = [...floors].sort((a, b) => a.api - b.api);
  /** The last floor named at each height. */
  const last: number[] = [];
  return byApi.map((f) => {
    const free = last.findIndex((api) => f.api - api >= NAMES_APART);
    const lift = free < 0 ? last.length : free;
    last[lift] = f.api;
    return { ...f, lift };
  });
}

function rowText(row: UpshiftRow): string {
  const now = row.now.length ? `now API ${row.now.join(", ")}` : "release not known";
  return `${row.label}: ${now}${row.best === null ? ", no way that meets the need" : `, best way to API ${row.best}${row.cleaned ? ", stock system cleaned" : ""}`}`;
}

export function UpshiftLegend() {
  return (
    <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm text-soft" aria-label="What the marks mean">
      <li className="flex items-center gap-1.5">
        <svg width="14" height="14" aria-hidden="true">
          <circle cx="7" cy="7" r="5" fill="var(--color-sheet)" stroke="var(--color-ink)" strokeWidth="2" />
        </svg>
        where it is now
      </li>
      <li className="flex items-center gap-1.5">
        <svg width="16" height="16" aria-hidden="true">
          <circle cx="8" cy="8" r="7" fill="var(--color-lane)" />
        </svg>
        where the best way takes it
      </li>
      <li className="flex items-center gap-1.5">
        <svg width="24" height="24" aria-hidden="true">
          <CleanedMark x={12} y={12} />
          <circle cx="12" cy="12" r="7" fill="var(--color-lane)" />
        </svg>
        the stock system cleaned
      </li>
      <li className="flex items-center gap-1.5">
        <svg width="12" height="12" aria-hidden="true">
          <circle cx="6" cy="6" r="5" fill="#b9b09d" />
        </svg>
        other ways
      </li>
      <li className="flex items-center gap-1.5">
        <svg width="6" height="16" aria-hidden="true">
          <line x1="3" x2="3" y1="0" y2="16" stroke="var(--color-signal)" strokeWidth="2" strokeDasharray="5 3" />
        </svg>
        app floor of a need
      </li>
    </ul>
  );
}
