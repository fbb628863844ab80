import type { Placed } from "~/app/server/planning/lane";
import { currentValue } from "~/core/device/lookUp";
import { chargePiece, type Piece } from "~/core/schedule/pieces";
import { type ChargingRow, lastCharging, putOnCharger } from "~/store/charging";
import type { Hand, Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { readPolicy } from "~/store/policy";
import { isWrong, rowsOfRun } from "./runThatIsOn";

/** What a device needs of a charger before it is begun. */
export interface Charging {
  readonly piece: Piece;
  /** It was put on one since its battery was read last; null: it was not. */
  readonly hangs: ChargingRow | null;
}

/**
 * Charging that is left before anything is written; null where its battery is as the house wants it, nobody has read it, or
 * the device is begun, or something went wrong there: then it waits for hands. That it hung on a charger for long enough is
 * no reading: the first step at the bench looks.
 */
export function chargingIn(store: Store): (device: Placed) => Charging | null {
  const floor = readPolicy(store).policy.batteryFloor;
  const last = lastCharging(store);
  return (device) => {
    const { facts, standing, done } = device;
    const piece = done === 0 ? chargePiece(currentValue(facts, "battery.percent") ?? null, floor) : null;
    if (!piece || isWrong(rowsOfRun(store, device), device)) return null;
    const hung = last.get(standing.id) ?? null;
    const read = facts.get("battery.percent")?.at ?? "";
    return { piece, hangs: hung && hung.at >= read ? hung : null };
  };
}

/** Somebody put a device on a charger. @returns what is wrong in words, or null */
export function charge(store: Store, tag: string, bench: string, hand: Hand): string | null {
  const standing = findStanding(store, tag);
  if (!standing) return `There is no device ${tag}`;
  putOnCharger(store, standing.id, bench.slice(0, 80), hand);
  return null;
}
