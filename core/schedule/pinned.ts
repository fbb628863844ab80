import { CHECKOUT_MINUTES, minuteAt, type TimePin, type Work } from "./eveningWork";
import { eveningsOf } from "./volunteer";

/**
 * Why a piece can't be put where somebody wants it, with what would make it possible; null where it can.
 *
 * @param pin minutes as the work has them
 * @example whyNotThere({ jobs: [], … }, { device: "TH-001", … }) // "nothing is left to plan of TH-001"
 */
export function whyNotThere(work: Work, pin: TimePin): string | null {
  const job = work.jobs.find(({ device }) => device === pin.device);
  if (!job) return `nothing is left to plan of ${pin.device}`;
  const place = pin.ends === null ? job.pieces.length : job.pieces.findIndex(({ to }) => to === pin.ends);
  const piece = job.pieces[place];
  if (place < 0) return "this piece of work is done already";
  if (piece && piece.kind !== "hands") return "it runs by itself: put the work by hand that begins it";
  if (place === 0 && job.begun) return `${job.begun.volunteer} has it in hand already`;
  const volunteer = work.volunteers.find(({ name }) => name === pin.volunteer);
  if (!volunteer) return `there is no volunteer ${pin.volunteer}`;
  const unknown = volunteer.ways.length ? job.ways.filter((way) => !volunteer.ways.includes(way)) : [];
  if (unknown.length > 0)
    return `${volunteer.name} may not do ${unknown.join(", ")}: show it to them, and write it down at Evenings`;
  const bench = work.benches.find(({ name }) => name === pin.bench);
  if (!bench) return `there is no open bench ${pin.bench}`;
  const minutes = piece?.minutes ?? CHECKOUT_MINUTES;
  const ends = pin.from + minutes;
  if (pin.from < work.now) return "that time is over";
  const holds = eveningsOf(volunteer, work.evenings).some(
    ({ day, from, to }) => minuteAt(work.from, day, from) <= pin.from && ends <= minuteAt(work.from, day, to),
  );
  if (!holds) return `${volunteer.name} is not there for ${minutes} minutes from then on`;
  const before = job.pieces.slice(0, place).reduce((sum, each) => sum + each.minutes, 0);
  const since = job.begun?.start ?? work.now;
  if (pin.from < since + before) return `what comes before it takes ${before} minutes, and is not done by then`;
  const other = work.pins?.find(
    (each) =>
      each.volunteer === pin.volunteer &&
      !(each.device === pin.device && each.ends === pin.ends) &&
      each.from < ends &&
      pin.from < each.from + minutesOf(work, each),
  );
  return other ? `${volunteer.name} has ${other.device} pinned at that time: let that one go first` : null;
}

function minutesOf({ jobs }: Work, { device, ends }: TimePin): number {
  const piece = jobs.find((job) => job.device === device)?.pieces.find(({ to }) => to === ends);
  return piece?.minutes ?? (ends === null ? CHECKOUT_MINUTES : 0);
}
