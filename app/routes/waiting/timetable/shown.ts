import { clockOf, dayOfMinute } from "~/app/server/timetable/times";
import type { StandingTimetable } from "~/app/server/timetable/timetable";
import { endsOf, type PlannedPiece } from "~/core/schedule/planned";

export type ShownPiece = PlannedPiece & {
  /** Device and the step at which the piece ends. */
  readonly key: string;
  readonly group: string | null;
  /** Somebody put it where it is. */
  readonly pinned: boolean;
  readonly begins: string;
  readonly ends: string;
};

/** One evening: who does what from when to when. */
export type ShownEvening = {
  readonly day: string;
  /** First and last minute that is drawn. */
  readonly from: number;
  readonly to: number;
  readonly rows: readonly {
    readonly name: string;
    /** A volunteer's hands, else a bench with what runs by itself. */
    readonly hands: boolean;
    readonly pieces: readonly ShownPiece[];
  }[];
};

/** Device and step as the page's forms name a piece; the look at the end has no step. */
export const keyOf = (device: string, ends: number | null): string => `${device}|${ends ?? ""}`;
export function pieceOf(key: string): { readonly device: string; readonly ends: number | null } {
  const [device, ends] = key.split("|");
  return { device, ends: ends === "" || ends === undefined ? null : Number(ends) };
}

/**
 * Evenings with a row per volunteer, and one per bench for what runs by itself.
 *
 * @param pinned keys of the pieces that somebody put where they are
 */
export function shownEvenings({ planned, groupOf }: StandingTimetable, pinned: ReadonlySet<string>): ShownEvening[] {
  if (!planned) return [];
  const { day } = planned;
  const byDay = new Map<string, ShownPiece[]>();
  for (const piece of planned.pieces) {
    if (piece.kind === "wait") continue;
    const on = dayOfMinute(day, piece.from);
    const key = keyOf(piece.device, endsOf(piece));
    const shown: ShownPiece = {
      ...piece,
      key,
      pinned: pinned.has(key),
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
      hands: true,
      pieces: pieces.filter(({ kind, volunteer }) => kind === "hands" && volunteer === name),
    }));
    const alone = pieces.filter(({ kind }) => kind !== "hands");
    for (const bench of [...new Set(alone.map((piece) => piece.bench ?? ""))].sort())
      rows.push({
        name: `${bench}: runs by itself`,
        hands: false,
        pieces: alone.filter((piece) => (piece.bench ?? "") === bench),
      });
    const from = Math.floor(Math.min(...pieces.map((piece) => piece.from)) / 30) * 30;
    const to = Math.ceil(Math.max(...pieces.map((piece) => piece.to)) / 30) * 30;
    return { day: on, from, to, rows };
  });
}
