import { minuteAt, type TimePin } from "~/core/schedule/eveningWork";
import { whyNotThere } from "~/core/schedule/pinned";
import { endsOf } from "~/core/schedule/planned";
import type { Hand, Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { freePiece, pinPiece } from "~/store/piecePins";
import { standingTimetable, startTimetable } from "./timetable";
import { gatherWork } from "./work";

/** While somebody carries pieces about, they want to see what gives way soon. */
const AFTER_A_MOVE_MS = 1500;

/** A piece as it is named on the page, and where it is wanted. */
export interface Wanted {
  readonly device: string;
  /** Step at which the piece ends; null for the look at the end. */
  readonly ends: number | null;
  readonly volunteer: string;
  /** YYYY-MM-DDTHH:MM on the house's own clock. */
  readonly start: string;
}

/**
 * Puts a piece of work to somebody's hands and a time; everything else gives way. Where it can't be, nothing is written.
 *
 * @returns what is wrong in words, or null
 */
export function putPiece(store: Store, { device, ends, volunteer, start }: Wanted, hand: Hand): string | null {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(start) || Number.isNaN(Date.parse(start)))
    return "Choose a day and a time";
  const planned = standingTimetable(store)?.planned;
  const piece = planned?.pieces.find(
    (each) => each.device === device && endsOf(each) === ends && each.volunteer !== null,
  );
  const standing = findStanding(store, device);
  if (!planned || !piece?.bench || !standing) return `This piece of ${device} is not in the timetable any more`;
  const { work } = gatherWork(store, new Date(hand.at), planned);
  const [day, clock] = start.split("T");
  const pin: TimePin = { device, ends, volunteer, bench: piece.bench, from: minuteAt(work.from, day, clock) };
  const wrong = whyNotThere(work, pin);
  if (wrong) return `${device} was not moved: ${wrong}`;
  pinPiece(store, { device: standing.id, ends, volunteer, bench: pin.bench, start }, hand);
  return startTimetable(store, hand, AFTER_A_MOVE_MS);
}

/** Lets a piece go where it fits best again. @returns what is wrong in words, or null */
export function letPieceGo(store: Store, { device, ends }: Pick<Wanted, "device" | "ends">, hand: Hand): string | null {
  const standing = findStanding(store, device);
  if (!standing) return `There is no device ${device}`;
  freePiece(store, { device: standing.id, ends }, hand);
  return startTimetable(store, hand, AFTER_A_MOVE_MS);
}
