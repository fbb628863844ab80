import { runbookOf } from "~/app/server/bench/runbooks";
import { sheetPieces } from "~/app/server/bench/sheetPieces";
import { housePolicy } from "~/app/server/planning/housePolicy";
import type { Placed } from "~/app/server/planning/lane";
import { indexOf } from "~/app/server/planning/planning";
import { chargingIn } from "~/app/server/timetable/charging";
import type { Need } from "~/core/catalogue/need";
import { writeRunbook } from "~/core/runbook/runbook";
import { CHECKOUT_MINUTES } from "~/core/schedule/eveningWork";
import type { Piece } from "~/core/schedule/pieces";
import type { Way } from "~/core/upgrade/way";
import type { Store } from "~/store/database";
import { acceptedWay } from "~/store/devices";

/** Minutes that a device takes of hands, and of a place at a bench. */
export type BenchMinutes = { readonly hands: number; readonly place: number };

/**
 * What is left to do of a device by a way, by the sheet that the timetable goes by: charging first where its battery wants it,
 * and the look at the end. Sheets of one model, need and way are as long as each other: one is written for all of them.
 */
export function benchMinutes(store: Store): (device: Placed, way: Way, need: Need) => BenchMinutes {
  const pieces = sheetPieces(store);
  const chargingOf = chargingIn(store);
  const index = indexOf(store);
  const policy = housePolicy(store);
  const kept = new Map<string, readonly Piece[] | null>();
  const written = ({ standing, model, facts }: Placed, way: Way, need: Need): readonly Piece[] | null => {
    if (!model) return null;
    const key = `${model.id}|${need.id}|${way.id}`;
    let list = kept.get(key);
    if (list === undefined) {
      const { tag, serial } = standing;
      try {
        list = pieces({ way, done: 0, runbook: writeRunbook({ tag, serial, model, facts, way, index, policy, need }) });
      } catch (error) {
        if (!(error instanceof RangeError)) throw error;
        list = null;
      }
      kept.set(key, list);
    }
    return list;
  };
  return (device, way, need) => {
    if (device.station === "checkout") return { hands: CHECKOUT_MINUTES, place: CHECKOUT_MINUTES };
    const accepted = acceptedWay(device.standing) !== null ? runbookOf(store, device.standing.tag) : null;
    const list = accepted?.ok ? pieces(accepted) : written(device, way, need);
    // Without a sheet what the plan said of the way is the nearest there is.
    if (!list) return inAll(way.handsOnMinutes, way.unattendedMinutes);
    const charging = list.length > 0 ? toQuarter(chargingOf(device)?.piece.minutes ?? 0) : 0;
    const sum = (is: (kind: Piece["kind"]) => boolean) =>
      list.reduce((all, { kind, minutes }) => all + (is(kind) ? minutes : 0), 0);
    return inAll(
      sum((kind) => kind === "hands"),
      charging + sum((kind) => kind === "watched" || kind === "alone"),
    );
  };
}

/** Up to the quarter of an hour: devices whose batteries differ by less are alike. */
const toQuarter = (minutes: number): number => Math.ceil(minutes / 15) * 15;

function inAll(hands: number, byItself: number): BenchMinutes {
  const all = Math.round(hands) + CHECKOUT_MINUTES;
  return { hands: all, place: all + Math.round(byItself) };
}
