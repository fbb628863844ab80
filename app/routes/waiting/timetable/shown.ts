import { addMinutes, format, parseISO } from "date-fns";
import type { StandingTimetable } from "~/app/server/timetable/timetable";
import type { PlannedPiece } from "~/core/schedule/planned";

/** A time on the house's own clock, from the minutes since the timetable's first day began. */
export const timeOf = (day: string, minute: number): Date => addMinutes(parseISO(day), minute);
export const clockOf = (day: string, minute: number): string => format(timeOf(day, minute), "HH:mm");
const dayOfMinute = (day: string, minute: number): string => format(timeOf(day, minute), "yyyy-MM-dd");

export type ShownPiece = PlannedPiece & {
  readonly group: string | null;
  readonly begins: string;
  readonly ends: string;
};

/** One evening: who does what from when to when. */
export type ShownEvening = {
  readonly day: string;
  /** First and last minute that is drawn. */
  readonly from: number;
  readonly to: number;
  readonly rows: readonly { readonly name: string; readonly pieces: readonly ShownPiece[] }[];
};

/** Evenings with a row per volunteer, and one per bench for what runs by itself. */
export function shownEvenings({ planned, groupOf }: StandingTimetable): ShownEvening[] {
  if (!planned) return [];
  const { day } = planned;
  const byDay = new Map<string, ShownPiece[]>();
  for (const piece of planned.pieces) {
    if (piece.kind === "wait") continue;
    const on = dayOfMinute(day, piece.from);
    const shown: ShownPiece = {
      ...piece,
      group: groupOf[piece.device] ?? null,
      begins: clockOf(day, piece.from),
      ends: clockOf(day, piece.to),
    };
    const list = byDay.get(on);
    if (list) list.push(shown);
    else byDay.set(on, [shown]);
  }
  return [...byDay].map(([on, pieces]) => {
    const names = [
      ...new Set(pieces.flatMap(({ kind, volunteer }) => (kind === "hands" && volunteer ? [volunteer] : []))),
    ];
    const rows = names.sort().map((name) => ({
      name,
      pieces: pieces.filter(({ kind, volunteer }) => kind === "hands" && volunteer === name),
    }));
    const alone = pieces.filter(({ kind }) => kind !== "hands");
    for (const bench of [...new Set(alone.map((piece) => piece.bench ?? ""))].sort())
      rows.push({ name: `${bench}: runs by itself`, pieces: alone.filter((piece) => (piece.bench ?? "") === bench) });
    const from = Math.floor(Math.min(...pieces.map((piece) => piece.from)) / 30) * 30;
    const to = Math.ceil(Math.max(...pieces.map((piece) => piece.to)) / 30) * 30;
    return { day: on, from, to, rows };
  });
}
