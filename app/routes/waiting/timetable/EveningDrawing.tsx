import { Link } from "react-router";
import { dateText } from "~/app/ui/words";
import type { ShownEvening, ShownPiece } from "./shown";

/** Hands solid, what runs by itself hatched: told by shape, not by colour alone. */
const HATCHED = "repeating-linear-gradient(45deg, var(--color-lane-wash) 0 5px, transparent 5px 9px)";

/** Per cent of an evening's width that a tag takes; what is narrower says it when it is pointed at, and in the list. */
const ROOM_FOR_A_TAG = 3.6;

/** An evening drawn by volunteer and by bench, with a line where it is now. */
export function EveningDrawing({ evening, now }: { evening: ShownEvening; now: number }) {
  const { day, from, to, rows } = evening;
  const span = to - from;
  const at = (minute: number) => `${(100 * (minute - from)) / span}%`;
  const marks = Array.from({ length: Math.floor(span / 30) + 1 }, (_, k) => from + 30 * k);
  return (
    <section className="sheet mt-4" aria-labelledby={`evening-${day}`}>
      <h2 id={`evening-${day}`}>{dateText(day)}</h2>
      <div className="mt-2 overflow-x-auto" aria-hidden="true">
        <div className="relative min-w-[44rem] pl-40">
          <div className="relative h-5 text-xs text-soft tabular-nums">
            {marks.map((minute) => (
              <span key={minute} className="absolute -translate-x-1/2" style={{ left: at(minute) }}>
                {clock(minute)}
              </span>
            ))}
          </div>
          {rows.map(({ name, pieces }) => {
            const lanes = lanesOf(pieces);
            return (
              <div
                key={name}
                className="relative border-t border-rule"
                style={{ height: `${lanes.length * 1.75 + 0.5}rem` }}
              >
                <span className="absolute -left-40 top-1 w-36 text-sm leading-tight font-semibold">{name}</span>
                {lanes.flatMap((lane, row) =>
                  lane.map((piece) => (
                    <span
                      key={`${piece.device} ${piece.from}`}
                      title={`${piece.begins}–${piece.ends} ${piece.device}: ${piece.title}${piece.group ? ` (${piece.group})` : ""}`}
                      className={`absolute h-6 overflow-hidden rounded border px-1 text-xs leading-6 whitespace-nowrap ${piece.kind === "hands" ? "border-lane bg-lane text-white" : "border-lane text-ink"}`}
                      style={{
                        left: at(piece.from),
                        width: `${(100 * (piece.to - piece.from)) / span}%`,
                        top: `${0.25 + row * 1.75}rem`,
                        background: piece.kind === "hands" ? undefined : HATCHED,
                      }}
                    >
                      {(100 * (piece.to - piece.from)) / span > ROOM_FOR_A_TAG && piece.device}
                    </span>
                  )),
                )}
                {now >= from && now <= to && (
                  <span className="absolute inset-y-0 w-0.5 bg-signal" style={{ left: at(now) }} />
                )}
              </div>
            );
          })}
        </div>
      </div>
      <details className="mt-2">
        <summary>The same as a list</summary>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">From, to</th>
              <th scope="col">Who</th>
              <th scope="col">Device</th>
              <th scope="col">What</th>
              <th scope="col">For</th>
            </tr>
          </thead>
          <tbody>
            {rows
              .flatMap(({ name, pieces }) => pieces.map((piece) => ({ name, piece })))
              .sort((a, b) => a.piece.from - b.piece.from)
              .map(({ name, piece }) => (
                <tr key={`${piece.device} ${piece.from}`}>
                  <td className="whitespace-nowrap">
                    {piece.begins}–{piece.ends}
                  </td>
                  <td>{name}</td>
                  <td>
                    <Link to={`/devices/${piece.device}`}>{piece.device}</Link>
                  </td>
                  <td>
                    {piece.title}
                    {piece.kind === "watched" && <span className="hint"> · stay near</span>}
                  </td>
                  <td>{piece.group ?? "–"}</td>
                </tr>
              ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}

/** The time of day of a minute since the first day began. */
const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60) % 24).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

/** Pieces that lie over each other in time are drawn one below the other. */
function lanesOf(pieces: readonly ShownPiece[]): ShownPiece[][] {
  const lanes: ShownPiece[][] = [];
  for (const piece of [...pieces].sort((a, b) => a.from - b.from)) {
    const free = lanes.find((lane) => (lane.at(-1)?.to ?? 0) <= piece.from);
    if (free) free.push(piece);
    else lanes.push([piece]);
  }
  return lanes;
}
