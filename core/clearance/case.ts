import { z } from "zod";
import { CLEARANCE_EVENTS, ClearanceEventKind } from "./events";
import { type LockKind, type LockPossible, missingProof, Proof } from "./proof";
import { CLEARANCE_STATES, type ClearanceState, isFinished } from "./states";

/** How an owner or issuer is asked. */
export const Channel = z.enum(["email", "desk", "phone", "post"]);
export type Channel = z.infer<typeof Channel>;

export const CHANNEL_WORDS: Record<Channel, string> = {
  email: "E-mail",
  desk: "At the desk",
  phone: "Telephone",
  post: "Paper letter",
};

/** What an event carries besides its evidence. */
export const EventDetail = z.strictObject({
  /** For "confirmed clear": what showed it. */
  proofs: z.array(Proof).optional(),
  /** For "promised": the day it is promised for. */
  promisedFor: z.iso.date("Write the day like 2026-11-30").optional(),
  /** For "asked" and "reminded": the letter that was sent, and how it went out. */
  letter: z.number().int().optional(),
  channel: Channel.optional(),
});
export type EventDetail = z.infer<typeof EventDetail>;

export interface CaseEvent {
  readonly id: number;
  readonly event: ClearanceEventKind;
  readonly evidence: string;
  readonly detail: EventDetail;
  readonly at: string;
  readonly by: string;
}

/** A case as its events have made it. */
export interface ClearanceCase {
  readonly state: ClearanceState;
  /** The locks that must be settled; an account until something else was found. */
  readonly locks: readonly LockKind[];
  /** When the state was entered; null when nothing has happened. */
  readonly since: string | null;
  /** When owner or issuer was first asked in this round. */
  readonly askedAt: string | null;
  /** How the first asking of this round went out; null when nobody wrote it down. */
  readonly channel: Channel | null;
  /** Reminders since then. */
  readonly reminders: readonly string[];
  readonly promisedFor: string | null;
  /** When the account was first said or shown to be off after asking. */
  readonly answeredAt: string | null;
  /** Number of the newest event that is more than a note, 0 when there is none: what a page has seen. */
  readonly newest: number;
  /** Events that count: all but notes, and those taken back with what took them back. */
  readonly counted: readonly CaseEvent[];
}

/**
 * Folds the events of a case, oldest first.
 *
 * @example foldCase([]).state // "not-looked-at"
 */
export function foldCase(events: readonly CaseEvent[]): ClearanceCase {
  const counted: CaseEvent[] = [];
  for (const event of events) {
    if (event.event === "note") continue;
    if (event.event === "taken-back") counted.pop();
    else counted.push(event);
  }
  let state: ClearanceState = "not-looked-at";
  let since: string | null = null;
  let askedAt: string | null = null;
  let channel: Channel | null = null;
  let answeredAt: string | null = null;
  let promisedFor: string | null = null;
  let reminders: string[] = [];
  let locks = new Set<LockKind>(["account"]);
  for (const { event, at, detail } of counted) {
    const { to } = CLEARANCE_EVENTS[event];
    if (to !== "same" && to !== "before") {
      state = to;
      since = at;
    }
    switch (event) {
      case "asked-owner":
      case "asked-issuer":
        // Asked again after "declined" or "out of reach" begins a new round.
        askedAt = at;
        channel = detail.channel ?? null;
        reminders = [];
        answeredAt = null;
        break;
      case "reminded":
        reminders.push(at);
        break;
      case "promised":
        promisedFor = detail.promisedFor ?? null;
        break;
      case "removed-by-owner":
      case "confirmed-clear":
        if (askedAt !== null) answeredAt ??= at;
        break;
      case "found-managed":
        locks.add("organisation");
        break;
      case "found-carrier-lock":
        locks.add("carrier");
        break;
      case "lock-came-back":
        locks = new Set(["account"]);
        askedAt = null;
        answeredAt = null;
        reminders = [];
        break;
    }
    if (state !== "promised") promisedFor = null;
  }
  // A managed or carrier-locked device shows no account of a person: the release settles it.
  if (locks.size > 1 && !counted.some((e) => e.event === "found-account" || e.event === "lock-came-back"))
    locks.delete("account");
  return {
    state,
    locks: [...locks],
    since,
    askedAt,
    channel,
    reminders,
    promisedFor,
    answeredAt,
    newest: events.findLast((e) => e.event !== "note")?.id ?? 0,
    counted,
  };
}

export interface ClearanceMove {
  readonly event: ClearanceEventKind;
  /** How it is known, in words. */
  readonly evidence: string;
  readonly detail?: EventDetail;
}

export type ClearanceStep =
  | { readonly ok: true; readonly state: ClearanceState; readonly shutsGate: boolean }
  | { readonly ok: false; readonly says: string };

const refuse = (says: string): ClearanceStep => ({ ok: false, says });

/** Fewest letters that tell anything. */
const EVIDENCE_LETTERS = 5;

/**
 * What an event leads to, or why it may not happen.
 *
 * Whatever opens or shuts the gate takes evidence; "confirmed clear" takes the proof its locks ask for; "no lock possible"
 * is refused where a lock is possible and where that is not known.
 *
 * @example stepClearance(foldCase([]), { event: "answered", … }, "yes") // { ok: false, says: "… does not follow …" }
 */
export function stepClearance(was: ClearanceCase, move: ClearanceMove, lock: LockPossible): ClearanceStep {
  const info = CLEARANCE_EVENTS[move.event];
  const from = CLEARANCE_STATES[was.state];
  if (!info.from.includes(was.state))
    return refuse(
      `“${info.says}” does not follow “${from.says}”. Reload the page: somebody may have moved the case on`,
    );
  if (info.to === "before" && was.counted.length === 0) return refuse("There is nothing to take back");
  const state =
    info.to === "same" ? was.state : info.to === "before" ? foldCase(was.counted.slice(0, -1)).state : info.to;
  const to = CLEARANCE_STATES[state];
  const gateMoves = from.opensGate !== to.opensGate;
  const freesLost = was.state === "reported-lost" && state !== "reported-lost";
  if ((info.evidence || gateMoves || freesLost) && move.evidence.trim().length < EVIDENCE_LETTERS)
    return refuse("Write down how you know it (for example who signed out, and what the set-up showed)");
  if (move.event === "no-lock-possible" && lock.possible !== false) return refuse(lock.says);
  if (move.event === "confirmed-clear") {
    const missing = missingProof(was.locks, move.detail?.proofs ?? [], everFound(was));
    if (missing) return refuse(`Not confirmed yet. Still missing: ${missing}`);
  }
  return { ok: true, state, shutsGate: from.opensGate && !to.opensGate };
}

const FINDS: ReadonlySet<ClearanceEventKind> = new Set([
  "found-account",
  "found-managed",
  "found-carrier-lock",
  "removed-by-owner",
  "lock-came-back",
]);

/**
 * Whether an account or another lock was on a device at any time, as far as the case tells.
 *
 * @example everFound(foldCase([])) // false
 */
export const everFound = (was: ClearanceCase): boolean => was.counted.some(({ event }) => FINDS.has(event));

/**
 * Events that may happen now, in the order they are offered.
 *
 * @example eventsFrom(foldCase([])).includes("taken-back") // false
 */
export function eventsFrom(was: ClearanceCase): ClearanceEventKind[] {
  return ClearanceEventKind.options.filter(
    (event) => CLEARANCE_EVENTS[event].from.includes(was.state) && (event !== "taken-back" || was.counted.length > 0),
  );
}

/**
 * Whole days from the first asking to the answer, or to now while it is open; null when nobody was asked.
 *
 * `over`: the case ended without an answer.
 *
 * @example daysToAnswer(foldCase([]), "2026-11-20T09:00:00.000Z") // null
 */
export function daysToAnswer(
  was: ClearanceCase,
  now: string,
): { days: number; answered: boolean; over: boolean } | null {
  if (was.askedAt === null) return null;
  const answered = was.answeredAt !== null;
  const ended = isFinished(was.state) ? was.since : null;
  const end = was.answeredAt ?? ended ?? now;
  return {
    days: Math.max(0, Math.floor((Date.parse(end) - Date.parse(was.askedAt)) / 86_400_000)),
    answered,
    over: !answered && ended !== null,
  };
}
