import { groupedBy } from "~/app/server/planning/groupedBy";
import { clockOf, dayOfMinute } from "~/app/server/timetable/times";
import type { StandingTimetable } from "~/app/server/timetable/timetable";
import { momentText } from "~/app/ui/words";
import { endsOf, type PlannedPiece } from "~/core/schedule/planned";

export type ShownPiece = PlannedPiece & {
  /** Device and the step at which the piece ends. */
  readonly key: string;
  readonly group: string | null;
  /** Somebody put it where it is. */
  readonly pinned: boolean;
  readonly begins: string;
  readonly ends: string;
  /** What ran by itself is over, and lies there until hands come for the device, on the same evening. */
  readonly lies: { readonly to: number; readonly ends: string } | null;
};

/** A volunteer's hands, a bench with what runs by itself, or the shelf where devices lie while a maker's days pass. */
export type ShownRow = {
  readonly kind: "hands" | "alone" | "shelf";
  readonly name: string;
  readonly pieces: readonly ShownPiece[];
};

/** One evening: who does what from when to when. */
export type ShownEvening = {
  readonly day: string;
  /** First and last minute that is drawn. */
  readonly from: number;
  readonly to: number;
  readonly rows: readonly ShownRow[];
};

/** Device and step as the page's forms name a piece; the look at the end has no step. */
export const keyOf = (device: string, ends: number | null): string => `${device}|${ends ?? ""}`;
export function pieceOf(key: string): { readonly device: string; readonly ends: number | null } {
  const [device, ends] = key.split("|");
  return { device, ends: ends === "" || ends === undefined ? null : Number(ends) };
}

/**
 * Evenings with a row per volunteer, one per bench for what runs by itself, and one for what lies on the shelf.
 *
 * @param pinned keys of the pieces that somebody put where they are
 */
export function shownEvenings(
  { planned, groupOf }: Pick<StandingTimetable, "planned" | "groupOf">,
  pinned: ReadonlySet<string>,
): ShownEvening[] {
  if (!planned) return [];
  const { day } = planned;
  const show = (piece: PlannedPiece, lies: number | null): ShownPiece => {
    const key = keyOf(piece.device, endsOf(piece));
    return {
      ...piece,
      key,
      pinned: pinned.has(key),
      group: groupOf[piece.device] ?? null,
      begins: clockOf(day, piece.from),
      ends: clockOf(day, piece.to),
      lies: lies === null ? null : { to: lies, ends: clockOf(day, lies) },
    };
  };
  const onShelf = planned.pieces.filter(({ kind }) => kind === "wait");
  return [...byDay(planned.pieces, day)].map(([on, pieces]) => {
    const from = Math.floor(Math.min(...pieces.map((piece) => piece.from)) / 30) * 30;
    const to = Math.ceil(Math.max(...pieces.map((piece) => piece.to)) / 30) * 30;
    const alone = pieces.filter(({ kind }) => kind !== "hands");
    const rows: ShownRow[] = [
      ...namesOf(pieces, ({ kind, volunteer }) => (kind === "hands" ? volunteer : null)).map((name) => ({
        kind: "hands" as const,
        name,
        pieces: pieces
          .filter(({ kind, volunteer }) => kind === "hands" && volunteer === name)
          .map((piece) => show(piece, null)),
      })),
      ...namesOf(alone, ({ bench }) => bench ?? "").map((name) => ({
        kind: "alone" as const,
        name: `${name}: runs by itself`,
        pieces: alone
          .filter(({ bench }) => (bench ?? "") === name)
          .map((piece) => show(piece, takenUpAgain(piece, pieces))),
      })),
    ];
    const lying = onShelf.filter((piece) => piece.from < to && piece.to > from);
    if (lying.length > 0)
      rows.push({
        kind: "shelf",
        name: "On the shelf",
        pieces: lying.map((piece) => ({
          ...show(piece, null),
          from: Math.max(from, piece.from),
          to: Math.min(to, piece.to),
          begins: momentOf(day, piece.from, on),
          ends: momentOf(day, piece.to, on),
        })),
      });
    return { day: on, from, to, rows };
  });
}

/** What is done on which evening; days that a maker lets pass are no evening's. */
const byDay = (pieces: readonly PlannedPiece[], day: string): Map<string, PlannedPiece[]> =>
  groupedBy(
    pieces.filter(({ kind }) => kind !== "wait"),
    ({ from }) => dayOfMinute(day, from),
  );

function namesOf(pieces: readonly PlannedPiece[], nameOf: (piece: PlannedPiece) => string | null): string[] {
  return [...new Set(pieces.flatMap((piece) => nameOf(piece) ?? []))].sort();
}

/** When a device is next taken up on the same evening; null where that is at once, or not on this one. */
function takenUpAgain({ device, to }: PlannedPiece, evening: readonly PlannedPiece[]): number | null {
  const next = Math.min(
    ...evening.filter((piece) => piece.device === device && piece.from >= to).map(({ from }) => from),
  );
  return next > to && next < Number.POSITIVE_INFINITY ? next : null;
}

/** The clock, with its date where that is another one. */
function momentOf(day: string, minute: number, on: string): string {
  const date = dayOfMinute(day, minute);
  return momentText(clockOf(day, minute), date === on ? null : date);
}
