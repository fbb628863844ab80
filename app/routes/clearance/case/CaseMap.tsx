import { Scroll } from "~/app/ui/Scroll";
import { CLEARANCE_EVENTS, type ClearanceEventKind } from "~/core/clearance/events";
import { CLEARANCE_STATES, ClearanceState } from "~/core/clearance/states";

const WIDTH = 780;
const HEIGHT = 232;
const BOX = { width: 132, height: 34 };

/** Where a state stands: from nobody has looked, on the left, to the open gate on the right; ways out at the bottom. */
const PLACES: Record<ClearanceState, readonly [column: number, row: number]> = {
  "not-looked-at": [0, 1],
  "none-present": [1, 0],
  present: [1, 1],
  managed: [1, 2],
  "carrier-locked": [1, 3],
  asked: [2, 1],
  "release-asked": [2, 2],
  promised: [3, 1],
  removed: [3, 0],
  unreachable: [3, 2],
  declined: [3, 3],
  "confirmed-clear": [4, 0],
  "not-applicable": [4, 1],
  "reported-lost": [4, 3],
};

const centre = (state: ClearanceState) => {
  const [column, row] = PLACES[state];
  return { x: 70 + column * 160, y: 24 + row * 60 };
};

/** A curve from one box's edge to another's, bent so that lines in the same row do not run through boxes. */
function curve(from: ClearanceState, to: ClearanceState): string {
  const a = centre(from);
  const b = centre(to);
  const right = b.x > a.x ? 1 : b.x < a.x ? -1 : 0;
  if (right === 0) {
    const down = b.y > a.y ? 1 : -1;
    return `M${a.x} ${a.y + (down * BOX.height) / 2} L${b.x} ${b.y - (down * BOX.height) / 2}`;
  }
  const ax = a.x + (right * BOX.width) / 2;
  const bx = b.x - (right * BOX.width) / 2;
  const far = Math.abs(b.x - a.x) > 170 && a.y === b.y;
  const lift = far ? -36 : 0;
  const middle = (ax + bx) / 2;
  return `M${ax} ${a.y} C${middle} ${a.y + lift} ${middle} ${b.y + lift} ${bx} ${b.y}`;
}

/** Lines are drawn between neighbours only: longer ones would run behind other boxes. Dashed boxes show the rest. */
const isNear = (from: ClearanceState, to: ClearanceState) =>
  Math.abs(PLACES[from][0] - PLACES[to][0]) <= 1 && Math.abs(PLACES[from][1] - PLACES[to][1]) <= 1;

interface Props {
  readonly state: ClearanceState;
  /** States the case has been in, oldest first. */
  readonly path: readonly ClearanceState[];
  readonly next: readonly ClearanceEventKind[];
}

/** The state machine with the path this case has taken, where it stands, and where it can go from there. */
export function CaseMap({ state, path, next }: Props) {
  const walked = path.slice(1).map((to, i) => [path[i], to] as const);
  const open = [
    ...new Set(
      next.map((e) => CLEARANCE_EVENTS[e].to).filter((to) => to !== "same" && to !== "before" && to !== state),
    ),
  ] as ClearanceState[];
  return (
    <Scroll label="States of the case" className="rounded-lg border border-rule bg-sheet p-2">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="min-w-[680px]"
        role="img"
        aria-label={`States of the case. Now: ${CLEARANCE_STATES[state].says}. So far: ${path.map((s) => CLEARANCE_STATES[s].says).join(", ")}. Possible next: ${open.map((s) => CLEARANCE_STATES[s].says).join(", ") || "nothing"}.`}
      >
        <defs>
          <marker
            id="head"
            viewBox="0 0 8 8"
            refX="7"
            refY="4"
            markerWidth="9"
            markerHeight="9"
            markerUnits="userSpaceOnUse"
            orient="auto"
          >
            <path d="M0 0 L8 4 L0 8 z" fill="context-stroke" />
          </marker>
        </defs>
        {open
          .filter((to) => isNear(state, to))
          .map((to) => (
            <path
              key={to}
              d={curve(state, to)}
              fill="none"
              stroke="var(--color-soft)"
              strokeDasharray="3 4"
              markerEnd="url(#head)"
            />
          ))}
        {walked.map(([from, to], i) => (
          <path
            key={`${from}${to}${i}`}
            d={curve(from, to)}
            fill="none"
            stroke="var(--color-lane)"
            strokeWidth="3"
            markerEnd="url(#head)"
          />
        ))}
        {ClearanceState.options.map((s) => {
          const { x, y } = centre(s);
          const now = s === state;
          const near = now || path.includes(s) || open.includes(s);
          const ends = CLEARANCE_STATES[s].verdict === "not-this-way";
          return (
            <g key={s}>
              <rect
                x={x - BOX.width / 2}
                y={y - BOX.height / 2}
                {...BOX}
                rx={CLEARANCE_STATES[s].opensGate ? 17 : 5}
                fill={now ? "var(--color-lane)" : "var(--color-paper)"}
                stroke={
                  now || path.includes(s) || (open.includes(s) && !ends)
                    ? "var(--color-lane)"
                    : ends
                      ? "var(--color-stop)"
                      : "var(--color-rule)"
                }
                strokeWidth={now || path.includes(s) ? 2.5 : 1.2}
                strokeDasharray={open.includes(s) && !path.includes(s) ? "4 3" : undefined}
              />
              <text
                x={x}
                y={y + 4}
                textAnchor="middle"
                fontSize="12"
                fontWeight={now ? 700 : 400}
                fill={now ? "white" : near ? "var(--color-ink)" : "var(--color-soft)"}
              >
                {SHORT[s] ?? CLEARANCE_STATES[s].says}
              </text>
            </g>
          );
        })}
      </svg>
    </Scroll>
  );
}

/** Names that are too long for their box. */
const SHORT: Partial<Record<ClearanceState, string>> = { managed: "Managed by an org." };
