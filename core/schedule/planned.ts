import type { EveningProblem, Work } from "./eveningWork";
import type { Piece } from "./pieces";
import type { Progress } from "./solve";

/** A piece of work with its time, who does it and where. */
export type PlannedPiece = {
  readonly device: string;
  readonly kind: Piece["kind"];
  readonly title: string;
  /** Minutes from the beginning of the timetable's first day. */
  readonly from: number;
  readonly to: number;
  /** Minutes that it usually takes, where it is planned for more: it is under way, and should be over by now. */
  readonly usual?: number;
  readonly volunteer: string | null;
  readonly bench: string | null;
  /** Steps of the sheet; null for the look at the end. */
  readonly steps: readonly [from: number, to: number] | null;
};

/**
 * Step at which a piece ends: by it a piece is known again; null for the look at the end.
 *
 * @example endsOf({ steps: [3, 5] }) // 5
 */
export const endsOf = ({ steps }: Pick<PlannedPiece, "steps">): number | null => steps?.[1] ?? null;

/** A timetable of the evenings as people read it. */
export type Planned = {
  readonly day: string;
  readonly pieces: readonly PlannedPiece[];
  /** Files that are fetched before their first use. */
  readonly fetches: readonly { readonly file: string; readonly from: number; readonly to: number }[];
  readonly left: EveningProblem["left"];
  /** Devices that are done behind their day, by how many minutes. */
  readonly late: readonly { readonly device: string; readonly minutes: number }[];
  /** Devices that find no time before the last evening that is known. */
  readonly noRoom: readonly string[];
  /** When all is done, and before which minute it can't be: proven. */
  readonly end: number;
  readonly soonest: number;
  readonly tardiness: number;
  /** Proven: no timetable has fewer late minutes. */
  readonly tardinessBound: number;
  /** Pieces that begin behind the time to which somebody pinned them. */
  readonly pinsLate: number;
};

/**
 * What the engine found, in devices, people and times.
 *
 * @example plannedOf(work, eveningProblem(work), progress).pieces[0].day // "2026-11-24" …
 */
export function plannedOf(work: Work, { problem, tasks, who, left }: EveningProblem, progress: Progress): Planned {
  const { timetable, cost, bound, soonest } = progress;
  let tardiness = 0;
  let pinsLate = 0;
  const pieces: PlannedPiece[] = [];
  const late: Planned["late"][number][] = [];
  const noRoom = new Set<string>();
  const fetches: Planned["fetches"][number][] = [];
  tasks.forEach(({ device, piece, file, day, pinned }, task) => {
    const from = timetable.starts[task];
    if (file !== undefined) {
      fetches.push({ file, from, to: from + problem.minutes[task] });
      return;
    }
    if (!Number.isFinite(from)) {
      noRoom.add(device);
      return;
    }
    const to = from + problem.minutes[task];
    const { volunteer, bench } = who[task][timetable.modes[task]];
    const usual = piece && piece.minutes < to - from ? { usual: piece.minutes } : {};
    pieces.push({
      device,
      kind: piece?.kind ?? "hands",
      title: piece ? piece.title : "Check it out",
      from,
      to,
      ...usual,
      volunteer,
      bench,
      steps: piece ? [piece.from, piece.to] : null,
    });
    if (pinned && to > problem.due[task]) pinsLate++;
    if (day && to > day.due) {
      late.push({ device, minutes: to - day.due });
      tardiness += day.weight * (to - day.due);
    }
  });
  return {
    day: work.from,
    pieces: pieces.sort((a, b) => a.from - b.from || a.device.localeCompare(b.device)),
    fetches: fetches.sort((a, b) => a.from - b.from),
    left,
    late,
    noRoom: [...noRoom],
    end: cost.makespan,
    soonest,
    tardiness,
    // What is proven holds for days and pins together: where a pin can't hold, nothing is known of the days alone.
    tardinessBound: pinsLate > 0 ? 0 : bound,
    pinsLate,
  };
}
