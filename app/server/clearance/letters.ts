import { addDays, format, parseISO } from "date-fns";
import { de, enGB } from "date-fns/locale";
import { type Placed, placedDevices } from "~/app/server/planning/lane";
import { deviceName } from "~/app/server/planning/planning";
import { apiOf } from "~/core/android/releases";
import { type Channel, type ClearanceCase, daysToAnswer } from "~/core/clearance/case";
import type { ClearanceEventKind } from "~/core/clearance/events";
import { type Letter, type LetterKind, templateId, writeLetter } from "~/core/clearance/letter";
import type { Language } from "~/core/clearance/signOut";
import { currentValue } from "~/core/device/lookUp";
import { appendClearance, clearanceEvents } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import { contactsByName, type Donor, NO_CONTACT } from "~/store/donors";
import { addLetter, findLetter, type LetterWay, readTemplates } from "~/store/letters";
import { readPolicy } from "~/store/policy";
import { inTransaction } from "~/store/transaction";
import { casesOf, lockOf } from "./cases";
import { openDues } from "./dues";

export interface AskDevice {
  readonly tag: string;
  readonly name: string;
  readonly api: number | null;
  readonly release: string | null;
  /** What the letter is to the case of this device. */
  readonly event: ClearanceEventKind;
  readonly seen: number;
  readonly askedAt: string | null;
}

/** One donor with all devices that one letter is about. */
export interface AskGroup {
  readonly donor: Donor;
  readonly devices: readonly AskDevice[];
}

/** What a letter of this kind would be to a case as it stands; null when it does not fit. */
function eventOf(kind: LetterKind, was: ClearanceCase, due: boolean): ClearanceEventKind | null {
  if (kind === "ask") return was.state === "present" ? "asked-owner" : null;
  if (kind === "remind") return (was.state === "asked" || was.state === "promised") && due ? "reminded" : null;
  if (was.state === "managed" || was.state === "carrier-locked") return "asked-issuer";
  return was.state === "release-asked" && due ? "reminded" : null;
}

/** Who has to be written to, with all their devices in one letter each. Devices without a donor come under "". */
export function askGroups(store: Store, kind: LetterKind, at: Date): AskGroup[] {
  const caseOf = casesOf(store);
  const due = new Set(
    openDues(store, at)
      .filter((d) => d.due.daysOver >= 0 && ["remind", "remind-again", "promise"].includes(d.due.kind))
      .map((d) => d.device.standing.id),
  );
  const contacts = contactsByName(store);
  const groups = new Map<string, { donor: Donor; devices: AskDevice[] }>();
  for (const device of placedDevices(store, null)) {
    if (device.station !== "clearance") continue;
    const { standing } = device;
    const was = caseOf(standing.id);
    const event = eventOf(kind, was, due.has(standing.id));
    if (!event) continue;
    const key = standing.donor.toLowerCase();
    let group = groups.get(key);
    if (!group) {
      const none = { ...NO_CONTACT, name: standing.donor, erased: null, version: 0 };
      group = { donor: contacts.get(key) ?? none, devices: [] };
      groups.set(key, group);
    }
    const release = currentValue(device.facts, "android.release") ?? null;
    group.devices.push({
      tag: standing.tag,
      name: deviceName(device, "device"),
      release,
      api: release === null ? null : apiOf(release),
      event,
      seen: was.newest,
      askedAt: was.askedAt,
    });
  }
  return [...groups.values()].sort((a, b) => a.donor.name.localeCompare(b.donor.name));
}

export interface LetterOrder {
  readonly kind: LetterKind;
  readonly language: Language;
  readonly plain: boolean;
  /** Tags of devices that the donor still holds. */
  readonly held: ReadonlySet<string>;
}

/** The day of decision in the reader's language. */
export function decideDay(group: AskGroup, decideAfter: number, at: Date, language: Language): string {
  const asked = group.devices.map((d) => d.askedAt).filter((a) => a !== null);
  const from = asked.length ? parseISO([...asked].sort()[0]) : at;
  const day = addDays(from, decideAfter);
  return writtenDay(day > at ? day : addDays(at, 7), language);
}

/**
 * A day as it stands in a letter.
 *
 * @example writtenDay(new Date("2026-12-14T12:00:00"), "de") // "14. Dezember 2026"
 */
export const writtenDay = (day: Date, language: Language): string =>
  language === "de" ? format(day, "d. MMMM yyyy", { locale: de }) : format(day, "d MMMM yyyy", { locale: enGB });

/** A letter as it would go out now. */
export function composeLetter(store: Store, group: AskGroup, order: LetterOrder, sender: string, at: Date): Letter {
  const { policy } = readPolicy(store);
  const id = templateId(order.kind, order.language, order.plain);
  const template = readTemplates(store).get(id)?.template;
  if (!template) throw new RangeError(`There is no letter text ${id}`);
  return writeLetter(template, {
    kind: order.kind,
    language: order.language,
    plain: order.plain,
    donor: group.donor.name,
    organisation: policy.organisation,
    sender,
    decideOn: decideDay(group, policy.followUp.decideAfter, at, order.language),
    devices: group.devices.map((d) => ({ ...d, held: order.held.has(d.tag) })),
  });
}

/**
 * Writes to donors, each once for all their devices: the letters are kept and every case moves on, all or nothing.
 *
 * @returns the letters' ids, or what is wrong in words
 */
export function sendLetters(
  store: Store,
  kind: LetterKind,
  orders: readonly (LetterOrder & { readonly donor: string; readonly how: LetterWay; readonly channel: Channel })[],
  hand: Hand,
): readonly number[] | string {
  const at = new Date(hand.at);
  const groups = new Map(askGroups(store, kind, at).map((g) => [g.donor.name.toLowerCase(), g]));
  const known = new Map(placedDevices(store, null).map((d) => [d.standing.tag, d]));
  const wrong: string[] = [];
  for (const { donor } of orders) {
    if (!groups.has(donor.toLowerCase()))
      wrong.push(`${donor}: there is nothing to write about any more. Somebody may have written already`);
  }
  if (wrong.length) return `${wrong.join("; ")}. Nothing was sent`;
  try {
    return inTransaction(store, () =>
      orders.map((order) => {
        const group = groups.get(order.donor.toLowerCase()) as AskGroup;
        const letter = composeLetter(store, group, order, hand.by, at);
        const id = addLetter(store, {
          donor: group.donor.name,
          kind,
          how: order.how,
          language: order.language,
          recipient: order.channel === "email" ? group.donor.email : order.channel === "phone" ? group.donor.phone : "",
          ...letter,
          tags: group.devices.map((d) => d.tag),
          ...hand,
        });
        for (const device of group.devices) {
          const says = appendClearance(
            store,
            device.tag,
            {
              event: device.event,
              evidence: "",
              detail: { letter: id, channel: order.channel },
              seen: device.seen,
              lock: lockOf(known.get(device.tag) as Placed),
            },
            hand,
          );
          if (says) throw new NotSent(`${device.tag}: ${says}. Nothing was sent`);
        }
        return id;
      }),
    );
  } catch (error) {
    if (error instanceof NotSent) return error.message;
    throw error;
  }
}

/** Thrown inside the transaction, so that it rolls back. */
class NotSent extends Error {}

/**
 * Takes a letter back that did not go out after all: in every case where it is still the newest entry. The letter stays in
 * the history.
 *
 * @returns tags whose case was put back
 */
export function takeLetterBack(store: Store, id: number, hand: Hand): string[] {
  const letter = findLetter(store, id);
  if (!letter) return [];
  const known = new Map(placedDevices(store, null).map((d) => [d.standing.tag, d]));
  return inTransaction(store, () =>
    letter.tags.filter((tag) => {
      const device = known.get(tag);
      const last = device && clearanceEvents(store, device.standing.id).findLast((e) => e.event !== "note");
      if (!device || last?.detail.letter !== id) return false;
      const move = { event: "taken-back" as const, evidence: "The letter did not go out", seen: last.id };
      return appendClearance(store, tag, { ...move, lock: lockOf(device) }, hand) === null;
    }),
  );
}

/** One donor's devices come back with one answer: counting each would weigh donors by their devices. */
export const oneAnswerEach = <A extends { readonly donor: string; readonly askedAt: string | null }>(
  asked: readonly A[],
): A[] => [...new Map(asked.map((a) => [`${a.donor}|${a.askedAt?.slice(0, 10)}`, a])).values()];

/** How long askings have taken so far, of one donor or of all; the basis of the answer times. */
export function askings(store: Store, at: Date) {
  const caseOf = casesOf(store);
  return placedDevices(store, null).flatMap((d) => {
    const was = caseOf(d.standing.id);
    const took = daysToAnswer(was, at.toISOString());
    return took
      ? [{ ...took, channel: was.channel ?? ("unknown" as const), donor: d.standing.donor, askedAt: was.askedAt }]
      : [];
  });
}
