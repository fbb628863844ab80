import type { PlannedPiece } from "./planned";

/** How far a device has come: what the bench said, not what was planned. */
export type Progress = {
  /** Steps of its sheet that are done. */
  readonly done: number;
  /** Minute at which the last of them was done; null where none was. */
  readonly at: number | null;
  /** It is handed over, set aside or goes no further: nothing is left to do. */
  readonly over: boolean;
  /** All steps are done: it waits for its checkout. */
  readonly finished: boolean;
  /** Minute since which it hangs on a charger; null where nobody put it on one. */
  readonly charging: number | null;
  /** Something went wrong at the step where it is: it runs no more, whatever was planned. */
  readonly wrong: boolean;
};

export type Running = {
  readonly piece: PlannedPiece;
  /** Minute until which it can be left, from when it really began. */
  readonly until: number;
};

/** What one pair of hands does next. */
export type Tonight = {
  /** The next thing to do with the hands; null when nothing is left. */
  readonly next: PlannedPiece | null;
  /** Minutes by which it is late, 0 when it is not. */
  readonly late: number;
  /** What runs by itself meanwhile, the one that is due first first. */
  readonly running: readonly Running[];
  /** What comes after it. */
  readonly later: readonly PlannedPiece[];
  /** Pieces that wait for something that is not done: a pilot's checkout, a device that still runs. */
  readonly waits: readonly PlannedPiece[];
};

/** Minutes that a piece takes, however late it is. */
const minutesOf = ({ from, to, usual = to - from }: PlannedPiece): number => usual;

function isDone(piece: PlannedPiece, progress: Progress, now: number): boolean {
  const { kind, steps } = piece;
  const { done, over, finished, charging, wrong } = progress;
  if (over) return true;
  // What went wrong at its first step waits for hands, not for a charger.
  if (kind === "charge")
    return finished || done > 0 || wrong || (charging !== null && charging + minutesOf(piece) <= now);
  return steps !== null && (finished || done >= steps[1]);
}

/** Nobody's hands are planned for a charger: whoever takes the device up behind it puts it on. */
function handsOf(piece: PlannedPiece, pieces: readonly PlannedPiece[]): string | null {
  if (piece.kind !== "charge") return piece.volunteer;
  return pieces.find(({ device, volunteer }) => device === piece.device && volunteer !== null)?.volunteer ?? null;
}

/**
 * What is next for somebody, by the bench's real clocks: what is done is done whatever was planned, and what runs by itself
 * began when the step before it was really done.
 *
 * @param pieces the timetable, in the order of its times
 * @param now    minute since the timetable's first day began
 * @example tonightOf([], () => progress, "Ada", 1080).next // null …
 */
export function tonightOf(
  pieces: readonly PlannedPiece[],
  progressOf: (device: string) => Progress,
  who: string,
  now: number,
): Tonight {
  const own = pieces.filter((piece) => handsOf(piece, pieces) === who);
  const running: Running[] = [];
  const stuck: PlannedPiece[] = [];
  const ready: PlannedPiece[] = [];
  const waits: PlannedPiece[] = [];
  const seen = new Set<string>();
  for (const piece of own) {
    const progress = progressOf(piece.device);
    if (isDone(piece, progress, now)) continue;
    // Of every device only the first piece that is left can be done now.
    const first = !seen.has(piece.device) && startsHere(piece, pieces, progress, now);
    seen.add(piece.device);
    if (first && progress.wrong) stuck.push(piece);
    else if (piece.kind === "charge" && progress.charging !== null)
      running.push({ piece, until: progress.charging + minutesOf(piece) });
    else if (piece.kind === "hands" || piece.kind === "charge") (first ? ready : waits).push(piece);
    else if (first && (progress.done > 0 || progress.at !== null))
      running.push({ piece, until: (progress.at ?? piece.from) + minutesOf(piece) });
    else waits.push(piece);
  }
  // What went wrong needs hands first, then what ran by itself and is over now; then what is not begun.
  running.sort((a, b) => a.until - b.until);
  const due = running.find(({ until }) => until <= now)?.piece;
  // Where other hands go on with it, these still have to look that it is over.
  const behind = due && (waits.find(({ device, kind }) => kind === "hands" && device === due.device) ?? due);
  const next = stuck[0] ?? behind ?? ready[0] ?? null;
  return {
    next,
    late: next ? Math.max(0, Math.round(now - next.to)) : 0,
    running,
    later: [...stuck, ...ready].filter((piece) => piece !== next),
    waits: waits.filter((piece) => piece.kind === "hands" && piece !== next),
  };
}

/** Nothing of the device that comes before this piece is left, whoever does it. */
const startsHere = (piece: PlannedPiece, pieces: readonly PlannedPiece[], progress: Progress, now: number): boolean =>
  !pieces.some((other) => other.device === piece.device && other.from < piece.from && !isDone(other, progress, now));
