import { parseISO } from "date-fns";
import { dayOf } from "~/app/server/http/clock";
import { placedDevices } from "~/app/server/planning/lane";
import type { PlannedPiece } from "~/core/schedule/planned";
import { type Progress, tonightOf } from "~/core/schedule/tonight";
import type { Store } from "~/store/database";
import { openVolunteers } from "~/store/evenings";
import { chargingIn } from "./charging";
import { isWrong, rowsOfRun } from "./runThatIsOn";
import { clockOf, dayOfMinute, minuteOf } from "./times";
import { followTimetable, isOnTheMove } from "./timetable";

/** A piece of work as somebody with full hands reads it. */
export interface TonightPiece {
  readonly device: string;
  readonly title: string;
  readonly bench: string | null;
  /** The day, where it is a later one than today. */
  readonly on: string | null;
  readonly begins: string;
  readonly ends: string;
  /** It runs by itself, but somebody has to stay near. */
  readonly stays: boolean;
  readonly accepted: boolean;
  /** It is to be put on a charger. */
  readonly charge: boolean;
  /** Where it is done. */
  readonly to: string;
}

/** How many of what comes later are named. */
const LATER = 5;

/** What is next for somebody's hands, by the bench's real clocks; null where there is no timetable. */
export function tonightFor(store: Store, asked: string | null, own: string, at: Date) {
  const standing = followTimetable(store, at);
  const planned = standing?.planned;
  if (!standing || !planned) return null;
  const busy = planned.pieces.flatMap(({ volunteer }) => (volunteer ? [volunteer] : []));
  // Whoever has nothing left is told so: somebody else's work is not shown in its place.
  const people = [...new Set([...busy, ...openVolunteers(store).map(({ name }) => name)])].sort();
  const who = asked && people.includes(asked) ? asked : people.includes(own) ? own : (busy[0] ?? people[0] ?? "");
  const devices = new Map(placedDevices(store, null).map((device) => [device.standing.tag, device]));
  const chargingOf = chargingIn(store);
  const readProgress = (tag: string): Progress => {
    const device = devices.get(tag);
    if (!device || device.station === "records" || device.station === "aside")
      return { done: 0, at: null, over: true, finished: true, charging: null, wrong: false };
    const { done, station } = device;
    const hangs = chargingOf(device)?.hangs;
    const rows = station === "bench" ? rowsOfRun(store, device) : [];
    const last = done > 0 ? rows.findLast(({ outcome }) => outcome === "done") : undefined;
    return {
      done,
      at: last ? minuteOf(planned.day, parseISO(last.at)) : null,
      over: false,
      finished: station === "checkout",
      charging: hangs ? minuteOf(planned.day, parseISO(hangs.at)) : null,
      wrong: isWrong(rows, device),
    };
  };
  // A device has many pieces: how far it came is read once.
  const kept = new Map<string, Progress>();
  const progressOf = (tag: string): Progress => {
    const progress = kept.get(tag) ?? readProgress(tag);
    kept.set(tag, progress);
    return progress;
  };
  const now = minuteOf(planned.day, at);
  const tonight = tonightOf(planned.pieces, progressOf, who, now);
  const dayIfLater = (minute: number): string | null => {
    const day = dayOfMinute(planned.day, minute);
    return day > dayOf(at) ? day : null;
  };
  const shown = (piece: PlannedPiece): TonightPiece => {
    const station = devices.get(piece.device)?.station;
    const accepted = station === "bench" || station === "checkout";
    const charge = piece.kind === "charge";
    const words = new URLSearchParams(charge ? { who } : { tonight: who });
    const place = piece.steps === null ? "checkout" : "bench";
    return {
      device: piece.device,
      title: !charge && progressOf(piece.device).wrong ? "Something went wrong: look at it" : piece.title,
      bench: piece.bench,
      on: dayIfLater(piece.from),
      begins: clockOf(planned.day, piece.from),
      ends: clockOf(planned.day, piece.to),
      stays: piece.kind === "watched",
      accepted,
      charge,
      to: charge ? `/tonight?${words}` : `/${place}/${piece.device}?${words}`,
    };
  };
  return {
    people,
    who,
    moves: isOnTheMove(standing),
    next: tonight.next && shown(tonight.next),
    late: tonight.late,
    later: tonight.later.slice(0, LATER).map(shown),
    waits: tonight.waits.length,
    runs: tonight.running.map(({ piece, until }) => ({
      ...shown(piece),
      until: clockOf(planned.day, Math.ceil(until)),
      untilOn: dayIfLater(Math.ceil(until)),
      left: Math.max(0, Math.ceil(until - now)),
    })),
  };
}

export type Tonight = NonNullable<ReturnType<typeof tonightFor>>;
