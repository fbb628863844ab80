import { minuteAt, type Work } from "./eveningWork";
import type { Uncertain, World } from "./odds";
import type { Planned } from "./planned";

/** What is known of a device beside the timetable. */
export type Divided = Pick<Uncertain, "device" | "group" | "donor" | "clearBy" | "success" | "again"> & {
  readonly build: string;
  /** Minutes that it takes from its first piece to its end, where it is not planned yet. */
  readonly takes: number;
};

/** Durations of own runs and of the trade differ by about so much (logarithm). Common practice, no source. */
export const SPREAD = 0.3;
/** One evening in twenty somebody can't come after all. Common practice, no source. */
export const NO_SHOW = 0.05;

/**
 * Division and timetable as what is uncertain about them: each device with the evening on which it is planned to be done.
 *
 * @example worldOf(work, planned, [], []).groups // [] …
 */
export function worldOf(
  work: Work,
  planned: Planned,
  divided: readonly Divided[],
  groups: readonly (Omit<World["groups"][number], "by"> & { readonly by: string })[],
): World {
  const dayNumber = (day: string) => minuteAt(work.from, day, "00:00") / 1440;
  const evenings = work.evenings.map(({ day, from, to }) => ({
    day: dayNumber(day),
    begins: minuteAt(work.from, day, from),
    ends: minuteAt(work.from, day, to),
  }));
  const ends = new Map<string, { readonly to: number; readonly volunteer: string | null }>();
  for (const { device, to, volunteer } of planned.pieces)
    if (to >= (ends.get(device)?.to ?? 0)) ends.set(device, { to, volunteer });
  const pilots = new Map<string, string>();
  for (const { device, build } of [...divided].sort(
    (a, b) => (ends.get(a.device)?.to ?? Infinity) - (ends.get(b.device)?.to ?? Infinity),
  ))
    if (!pilots.has(build)) pilots.set(build, device);
  return {
    devices: divided.map(({ build, takes, ...one }): Uncertain => {
      const end = ends.get(one.device);
      const evening = end ? evenings.findIndex(({ ends: closes }) => end.to <= closes) : -1;
      const pilot = pilots.get(build) ?? null;
      return {
        ...one,
        evening: evening < 0 ? null : evening,
        minutes: end && evening >= 0 ? Math.max(0, end.to - evenings[evening].begins) : takes,
        volunteer: end?.volunteer ?? null,
        pilot: pilot === one.device ? null : pilot,
      };
    }),
    evenings: evenings.map(({ day, begins, ends: closes }) => ({ day, minutes: closes - begins })),
    groups: groups.map((group) => ({ ...group, by: dayNumber(group.by) })),
    spread: SPREAD,
    noShow: NO_SHOW,
  };
}
