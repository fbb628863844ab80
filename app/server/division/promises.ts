import { addDays, differenceInCalendarDays, parseISO } from "date-fns";
import { dayOf, now } from "~/app/server/http/clock";
import { placedDevices } from "~/app/server/planning/lane";
import { oddsBy, standingTimetable, whatItMisses } from "~/app/server/timetable/timetable";
import { atLeast } from "~/core/allocate/confidence";
import { outcomeOfPromise, type PromiseOutcome } from "~/core/allocate/promise";
import { brierScore, type ReliabilityBin, reliability } from "~/core/experience/promises";
import type { Cause } from "~/core/schedule/odds";
import type { Hand, Store } from "~/store/database";
import { givenCounts, handedOverTo, standingDivision } from "~/store/divisions";
import { findGroup, type GroupRow } from "~/store/evenings";
import { addPromise, allPromises, type PromiseRow, takePromiseBack } from "~/store/promises";
import { dividedForAnotherDay, restsOn } from "./standing";

/** What can be promised to a group today. */
export interface Offer {
  readonly count: number;
  readonly chance: number;
  /** Day by which it is sure nine times in ten; null: none that is known, or the evenings were not played through. */
  readonly sure: string | null;
}

/**
 * Devices that stand divided to a group, wherever they have come to, with the chance that each is ready by its day; null:
 * they were divided for another day.
 */
export function devicesFor(store: Store, group: GroupRow) {
  const rows = standingDivision(store)?.devices.filter(({ grp }) => grp === group.id) ?? [];
  const byId = new Map(placedDevices(store, null).map((device) => [device.standing.id, device]));
  const unknown = dividedForAnotherDay(store, group) !== null;
  // What has not come by a day that is over does not come by it any more, however likely it was when it was divided.
  const over = isOver(group, now(store));
  return rows.flatMap((row) => {
    const device = byId.get(row.device);
    return device ? [{ row, device, chance: over ? 0 : unknown ? null : row.chance }] : [];
  });
}

/** Those of them that are still to come: not handed over, nor at any other end. */
export const toComeFor = (store: Store, group: GroupRow) =>
  devicesFor(store, group).filter(({ device }) => device.station !== "records" && device.station !== "aside");

interface Offers {
  readonly offers: readonly Offer[];
  /** What holds them up most. */
  readonly holdsUp: Cause | null;
  /** The evenings were played through for them. */
  readonly played: boolean;
  /** What they rest on without anybody having written it down, or still, in words. */
  readonly restsOn: readonly string[];
}

/** What can be promised, by the timetable's odds where there are any, else by the division's. */
export function offersFor(store: Store, group: GroupRow, timetable = standingTimetable(store)): Offers {
  const has = givenCounts(store).get(group.id) ?? 0;
  const played = oddsBy(timetable, group);
  if (timetable && played) {
    const { odds, from } = played;
    const worst = odds.costs[0];
    // A timetable may be older than the end of the day.
    const over = isOver(group, now(store));
    const misses = whatItMisses(timetable);
    return {
      offers: odds.odds.map(({ count, chance, sure }) => ({
        count,
        chance: over && count > has ? 0 : chance,
        sure: sure === null ? null : dayOf(addDays(from, sure)),
      })),
      holdsUp: worst && worst.devices >= 0.05 ? worst.cause : null,
      played: true,
      restsOn: misses === null ? [] : [misses],
    };
  }
  const toCome = toComeFor(store, group);
  const chances = toCome.flatMap(({ chance }) => chance ?? []);
  if (chances.length === 0 || chances.length < toCome.length)
    return { offers: [], holdsUp: null, played: false, restsOn: [] };
  const counts = Array.from({ length: group.wanted - group.least + 1 }, (_, k) => group.least + k);
  return {
    offers: counts.map((count) => ({ count, chance: atLeast(chances, Math.max(0, count - has)), sure: null })),
    holdsUp: null,
    played: false,
    restsOn: restsOn(store, now(store)),
  };
}

/** The day that was agreed on with a group is over. */
export const isOver = ({ by }: Pick<GroupRow, "by">, at: Date): boolean =>
  differenceInCalendarDays(parseISO(by), at) < 0;

const DAY_IS_OVER = "Its day is over: agree on another one with them, and write it down on the group's page";

/** Why nothing can be told to a group today; null where something can. */
export function nothingToTell(store: Store, group: GroupRow, offers: readonly Offer[], at: Date): string | null {
  if (isOver(group, at)) return DAY_IS_OVER;
  if (offers.length > 0) return null;
  return dividedForAnotherDay(store, group)
    ? "They were divided for another day than theirs is now: divide again, or work the timetable out"
    : "Nothing is divided to them on which a promise could rest. Divide the devices first";
}

/**
 * Gives a promise: what stands beside it today is kept with it, and the devices on which it rests stay with the group.
 *
 * @returns what is wrong in words, or null
 */
export function givePromise(store: Store, groupId: number, count: number, hand: Hand): string | null {
  const group = findGroup(store, groupId);
  if (!group || group.closed) return "This group waits no more";
  const { offers } = offersFor(store, group);
  const nothing = nothingToTell(store, group, offers, new Date(hand.at));
  if (nothing) return nothing;
  const offer = offers.find((each) => each.count === count);
  if (!offer) return `Promise ${group.least} to ${group.wanted} of them`;
  if (openPromiseTo(store, group, new Date(hand.at)))
    return "A promise to them stands already: take it back first, and tell them";
  const rests = toComeFor(store, group).map(({ row }) => row.device);
  addPromise(store, { grp: groupId, count, day: group.by, chance: offer.chance, sure: offer.sure, ...hand }, rests);
  return null;
}

/** Takes a promise back. @returns what is wrong in words, or null */
export function withdrawPromise(store: Store, group: number, id: number, reason: string, hand: Hand): string | null {
  if (reason.trim().length < 3) return "Write what the group was told";
  const promise = allPromises(store).find((each) => each.id === id && each.grp === group);
  if (!promise) return "There is no such promise";
  return takePromiseBack(store, id, reason.trim().slice(0, 400), hand) ? null : "It was taken back already";
}

export type KeptPromise = PromiseRow & {
  readonly outcome: PromiseOutcome | "back";
  /** Devices that came by its day. */
  readonly came: number;
};

/** Promises to one group, or to all, with what came of them. */
export function promisesTo(store: Store, group: number | null, at: Date): KeptPromise[] {
  const given = handedOverTo(store).map(({ grp, at: time }) => ({ grp, day: dayOf(parseISO(time)) }));
  return allPromises(store)
    .filter(({ grp }) => group === null || grp === group)
    .map((promise) => {
      const days = given.filter(({ grp }) => grp === promise.grp).map(({ day }) => day);
      return {
        ...promise,
        came: days.filter((day) => day <= promise.day).length,
        outcome: promise.back !== null ? "back" : outcomeOfPromise(promise, days, dayOf(at)),
      };
    });
}

/** The promise to a group of which nobody knows yet what comes of it; null: none stands. */
export const openPromiseTo = (store: Store, { id }: Pick<GroupRow, "id">, at: Date): KeptPromise | null =>
  promisesTo(store, id, at).find(({ outcome }) => outcome === "open") ?? null;

/** How well promises held. One that was taken back before its day was not kept: who was told so did not get it. */
export function calibration(
  store: Store,
  at: Date,
): {
  readonly of: number;
  readonly kept: number;
  readonly brier: number | null;
  readonly bins: readonly ReliabilityBin[];
} {
  const over = promisesTo(store, null, at).filter(({ outcome }) => outcome !== "open");
  const promised = over.map(({ chance, outcome }) => ({ chance, kept: outcome === "kept" }));
  return {
    of: promised.length,
    kept: promised.filter(({ kept }) => kept).length,
    brier: brierScore(promised),
    bins: reliability(promised, 5),
  };
}
