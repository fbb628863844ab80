import { format, parseISO } from "date-fns";
import { docOf, restsNow } from "~/app/server/jobs/beside";
import type { Division } from "~/core/allocate/divide";
import { difference, moved, type Undo, undone, undoOf } from "~/core/allocate/move";
import { overtime } from "~/core/allocate/overtime";
import type { Pin, Question } from "~/core/allocate/question";
import type { Hand, Store } from "~/store/database";
import { findStanding, type Standing } from "~/store/devices";
import { divisionDrafts } from "~/store/drafts";
import { groupNames } from "~/store/evenings";
import { inTransaction } from "~/store/transaction";
import { type Draft, type StandingDraft, standingDraft } from "./draft";
import { type DevicePins, pinsOf, setPins } from "./pins";

/** Where a device is put by hand: with a group, in the reserve, or anywhere but with a group. */
export type Place =
  | { readonly is: "there"; readonly group: string }
  | { readonly is: "reserve" }
  | { readonly is: "never"; readonly group: string };

/** A move that can be undone, with the pins that its device had before it. */
export interface DoneMove extends Undo {
  readonly pins: readonly (readonly [grp: number, kind: Pin["kind"]])[];
}

/** So many moves can be undone, the last one first. */
const MOST_UNDONE = 50;

/**
 * Moves one device by hand in the division that is looked at, and pins it: dividing again leaves it there. What it costs
 * stands beside it.
 *
 * @returns what is wrong in words, or null
 */
export function moveDevice(store: Store, tag: string, place: Place, hand: Hand): string | null {
  const draft = draftToMoveIn(store);
  if (typeof draft === "string") return draft;
  const { division, asked } = draft;
  const standing = findStanding(store, tag);
  if (!standing) return `There is no device ${tag}`;
  const names = groupNames(store);
  if (place.is !== "reserve" && !asked.question.groups.some(({ id }) => id === place.group))
    return `${standing.tag} was not moved. This group does not wait here any more: divide again`;
  if (asked.promised?.includes(standing.tag))
    return `${standing.tag} was not moved. A promise rests on it: take the promise back first, and tell the group`;
  const undo = { ...undoOf(division, standing.tag), pins: [...pinsOf(store, standing.id)] };
  const from = undo.option?.group ?? null;
  const to = place.is === "there" ? place.group : place.is === "never" && from !== place.group ? from : null;
  const pins = pinsFor(place, undo.pins, asked.question.groups);
  if (from === to && same(pins, new Map(undo.pins))) return `${standing.tag} is there already`;
  const next = from === to ? division : moved(asked.question, division, { device: standing.tag, to });
  if (typeof next === "string") return `${standing.tag} was not moved. ${next}`;
  const nameOf = (group: string) => names.get(group) ?? group;
  const changes = [...difference(division, next, nameOf), ...overtimeWords(asked.question, next)];
  write(store, draft, {
    standing,
    division: next,
    pins,
    says: `${standing.tag} ${placeWords(place, nameOf)}: ${changes.length ? changes.join("; ") : "nothing else changes"}`,
    undo: [undo, ...(draft.undo ?? [])].slice(0, MOST_UNDONE),
    hand,
  });
  return null;
}

/**
 * Undoes the last move by hand, with the pin that it put.
 *
 * @returns what is wrong in words, or null
 */
export function undoMove(store: Store, version: number, hand: Hand): string | null {
  const draft = draftToMoveIn(store);
  if (typeof draft === "string") return draft;
  if (draft.version !== version) return "Something was moved meanwhile. Look at what stands now";
  const [last, ...undo] = draft.undo ?? [];
  const standing = last && findStanding(store, last.device);
  if (!last || !standing) return "Nothing was moved by hand here that could be undone";
  write(store, draft, {
    standing,
    division: undone(draft.asked.question, draft.division, last),
    pins: new Map(last.pins),
    says: `${standing.tag} is back where it was`,
    undo,
    hand,
  });
  return null;
}

/** The division in which something can be moved; or what is wrong, in words. */
function draftToMoveIn(store: Store): (StandingDraft & { readonly division: Division }) | string {
  const draft = standingDraft(store);
  if (draft?.state === "running")
    return "It is still being worked out: stop it, or wait until it stands, and move then";
  return draft?.division
    ? { ...draft, division: draft.division }
    : "There is no division in which to move anything yet";
}

/** The pins of a device that is put there: it goes to one group only; in the reserve it is kept from all that wait. */
function pinsFor(place: Place, before: DoneMove["pins"], groups: readonly { readonly id: string }[]): DevicePins {
  const never = before.filter(([, kind]) => kind === "never");
  switch (place.is) {
    case "there":
      return new Map([...never, [Number(place.group), "there"]]);
    case "never":
      return new Map([...before, [Number(place.group), "never"]]);
    case "reserve":
      return new Map([...never, ...groups.map(({ id }) => [Number(id), "never"] as const)]);
  }
}

function placeWords(place: Place, nameOf: (group: string) => string): string {
  switch (place.is) {
    case "there":
      return `goes to ${nameOf(place.group)}`;
    case "never":
      return `never goes to ${nameOf(place.group)}`;
    case "reserve":
      return "goes into the reserve";
  }
}

/** What the bench has not the time for, in words: a move by hand is made whatever it costs. */
const overtimeWords = (question: Question, { placed }: Division): string[] =>
  overtime(question, placed).map(({ time, over }) => {
    const of = time.skills ? "of those who may do it" : time.of === "places" ? "at the benches" : "of hands";
    return `the evenings until ${format(parseISO(time.day), "d MMM yyyy")} have ${Math.ceil(over)} min too few ${of}`;
  });

const same = (one: DevicePins, other: DevicePins) =>
  one.size === other.size && [...one].every(([grp, kind]) => other.get(grp) === kind);

interface Written {
  readonly standing: Standing;
  readonly division: Division;
  readonly pins: DevicePins;
  readonly says: string;
  readonly undo: Draft["undo"];
  readonly hand: Hand;
}

/** Pins, and the division that now stands, in one: the pin is written by the move, and does not make what is looked at stale. */
function write(store: Store, draft: StandingDraft, { standing, division, pins, says, undo, hand }: Written): void {
  const { asked } = draft;
  const others = asked.question.pins.filter(({ device }) => device !== standing.tag);
  const own = [...pins].map(([grp, kind]): Pin => ({ device: standing.tag, group: String(grp), kind }));
  inTransaction(store, () => {
    setPins(store, standing.id, pins, hand);
    const next: Draft = {
      ...docOf(draft),
      asked: { ...asked, question: { ...asked.question, pins: [...others, ...own] } },
      division,
      moved: says,
      undo,
      whatIf: [],
      alternatives: [],
      rests: draft.stale ? draft.rests : restsNow(store),
    };
    divisionDrafts.begin(store, "done", JSON.stringify(next), hand);
  });
}
