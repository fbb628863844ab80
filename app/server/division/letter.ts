import { parseISO } from "date-fns";
import { writtenDay } from "~/app/server/clearance/letters";
import { now } from "~/app/server/http/clock";
import { catalogueOf, deviceName, planOnceClear } from "~/app/server/planning/planning";
import { followTimetable, isOnTheMove } from "~/app/server/timetable/timetable";
import { groupLetter } from "~/core/allocate/groupLetter";
import type { Language } from "~/core/clearance/signOut";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { Store } from "~/store/database";
import { acceptedWay } from "~/store/devices";
import type { GroupRow } from "~/store/evenings";
import { readPolicy } from "~/store/policy";
import { type KeptPromise, nothingToTell, offersFor, toComeFor } from "./promises";

/** A mail address in what was written down as the group's contact. */
const ADDRESS = /[^\s<>,;]+@[^\s<>,;]+\.[^\s<>,;]+/;

interface LetterToGroup {
  readonly subject: string;
  readonly body: string;
  /** Mail address; empty where none is known. */
  readonly to: string;
  readonly from: string;
  readonly organisation: string;
  /** What it rests on without anybody having written it down, or still, in words: not for the group, but for who sends it. */
  readonly restsOn: readonly string[];
  /** What it says is being worked out again. */
  readonly moves: boolean;
}

/**
 * The letter to a group: by the promise that stands, else by what could be promised today.
 *
 * @param language that the group reads
 * @returns in words why there is nothing that could be said, where that is so
 */
export function letterTo(
  store: Store,
  group: GroupRow,
  promise: KeptPromise | null,
  sender: string,
  language: Language,
): LetterToGroup | { readonly nothing: string } {
  const dateText = (day: string) => writtenDay(parseISO(day), language);
  const timetable = followTimetable(store, now(store));
  const { offers, holdsUp, played, restsOn } = offersFor(store, group, timetable);
  const nothing = promise ? null : nothingToTell(store, group, offers, now(store));
  if (nothing) return { nothing };
  // What is likelier than not, and the most of it: nobody is helped by a promise of all that is hardly ever kept.
  const offer = promise ?? offers.findLast(({ chance }) => chance >= 0.5) ?? offers[0];
  const devices = toComeFor(store, group);
  const need = catalogueOf(store).needs.find(({ id }) => id === group.need);
  const kinds = new Map<string, number>();
  for (const { row, device } of devices) {
    const ways = need ? planOnceClear(store, device, need).ways : [];
    const way = acceptedWay(device.standing) ?? ways.find(({ id }) => id === row.way);
    const name = `${deviceName(device)}${way?.release ? `, Android ${way.release}` : ""}`;
    kinds.set(name, (kinds.get(name) ?? 0) + 1);
  }
  const { policy } = readPolicy(store);
  const letter = groupLetter(
    {
      group: group.name,
      organisation: policy.organisation,
      sender,
      wanted: group.wanted,
      count: offer.count,
      chance: offer.chance,
      day: dateText(promise?.day ?? group.by),
      // Only evenings that were played through name a day: a promise without one may rest on the division alone.
      played: promise ? promise.sure !== null : played,
      sure: offer.sure ? dateText(offer.sure) : null,
      kinds: [...kinds].map(([name, count]) => ({ name, count })).sort((a, b) => b.count - a.count),
      uncleared: devices.filter(({ device }) => !CLEARANCE_STATES[device.standing.clearance].opensGate).length,
      holdsUp,
    },
    language,
  );
  return {
    ...letter,
    to: ADDRESS.exec(group.contact)?.[0] ?? "",
    from: policy.letterFrom,
    organisation: policy.organisation,
    restsOn: promise ? [] : restsOn,
    moves: !promise && isOnTheMove(timetable),
  };
}
