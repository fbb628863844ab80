import { groupedBy } from "~/app/server/planning/groupedBy";
import type { Pin } from "~/core/allocate/question";
import type { Hand, Store } from "~/store/database";
import { findStanding, tagOf } from "~/store/devices";
import { putPin, standingPins } from "~/store/divisions";
import { groupNames, openGroups } from "~/store/evenings";
import { frozenDevices } from "~/store/promises";
import { inTransaction } from "~/store/transaction";

/** Groups to which a device is pinned, or from which it is kept. */
export type DevicePins = ReadonlyMap<number, Pin["kind"]>;

/** A device that was pinned by hand, as it is told. */
export interface ShownPin {
  readonly device: string;
  /** The group it goes to; null: it is only kept from some. */
  readonly there: string | null;
  /** Groups it is kept from. */
  readonly never: readonly string[];
  /** It is kept from all that wait. */
  readonly reserve: boolean;
}

export const pinsOf = (store: Store, device: number): DevicePins =>
  new Map(
    standingPins(store).flatMap((pin) => (pin.device === device && pin.kind !== "free" ? [[pin.grp, pin.kind]] : [])),
  );

/** Writes down what changes of a device's pins; what stands already is not written again. */
export function setPins(store: Store, device: number, wanted: DevicePins, hand: Hand): void {
  const before = pinsOf(store, device);
  inTransaction(store, () => {
    for (const grp of new Set([...before.keys(), ...wanted.keys()]))
      if (before.get(grp) !== wanted.get(grp)) putPin(store, device, grp, wanted.get(grp) ?? "free", hand);
  });
}

/** What was pinned by hand for groups that wait, by device; what rests on a promise is told where the promise is. */
export function shownPins(store: Store): ShownPin[] {
  const waiting = new Set(openGroups(store).map(({ id }) => id));
  const names = groupNames(store);
  const frozen = new Set(frozenDevices(store).map(({ device }) => device));
  const pins = standingPins(store).filter(({ device, grp }) => waiting.has(grp) && !frozen.has(device));
  return [...groupedBy(pins, ({ device }) => device)]
    .flatMap(([device, own]): ShownPin[] => {
      const tag = tagOf(store, device);
      const named = (kind: Pin["kind"]) =>
        own.flatMap((pin) => (pin.kind === kind ? [names.get(String(pin.grp)) ?? String(pin.grp)] : []));
      const [there = null] = named("there");
      const never = named("never");
      return tag === null
        ? []
        : [{ device: tag, there, never, reserve: there === null && never.length === waiting.size }];
    })
    .sort((a, b) => a.device.localeCompare(b.device));
}

/**
 * Lets a device go wherever dividing puts it.
 *
 * @returns what is wrong in words, or null
 */
export function letGo(store: Store, tag: string, hand: Hand): string | null {
  const standing = findStanding(store, tag);
  if (!standing || pinsOf(store, standing.id).size === 0) return `${tag} is pinned nowhere. Reload the page`;
  setPins(store, standing.id, new Map(), hand);
  return null;
}
