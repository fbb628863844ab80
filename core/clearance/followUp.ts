import { addDays, differenceInCalendarDays, formatISO, parseISO } from "date-fns";
import { z } from "zod";
import type { ClearanceCase } from "./case";

/**
 * Days counted from the first asking, and how long things are kept after a case has closed. Common practice, no source;
 * every one is editable.
 */
export const FollowUpPolicy = z
  .strictObject({
    /** For our own steps: to look, to ask, to confirm. */
    actWithin: z.number().int().min(0).max(30).default(2),
    remindAfter: z.number().int().min(1).max(60).default(7),
    remindAgainAfter: z.number().int().min(2).max(90).default(14),
    decideAfter: z.number().int().min(3).max(365).default(30),
    eraseContactAfter: z.number().int().min(0).max(3650).default(60),
    deleteEvidenceAfter: z.number().int().min(0).max(3650).default(365),
  })
  .refine((p) => p.remindAfter < p.remindAgainAfter, {
    message: "The second reminder comes after the first",
    path: ["remindAgainAfter"],
  })
  .refine((p) => p.remindAgainAfter < p.decideAfter, {
    message: "The decision comes after the second reminder",
    path: ["decideAfter"],
  });
export type FollowUpPolicy = z.infer<typeof FollowUpPolicy>;

export const DueKind = z.enum(["look", "ask", "ask-issuer", "confirm", "remind", "remind-again", "promise", "decide"]);
export type DueKind = z.infer<typeof DueKind>;

export const DUE_WORDS: Record<DueKind, string> = {
  look: "Look whether an account is on it",
  ask: "Ask the owner",
  "ask-issuer": "Ask the organisation or carrier for a written release",
  confirm: "Look at the set-up and confirm",
  remind: "Remind",
  "remind-again": "Remind a second time",
  promise: "The promised day: look whether it happened",
  decide: "Decide: wait on, or parts and recycling under local rules",
};

export interface Due {
  readonly kind: DueKind;
  /** Day it is due, as 2026-11-30. */
  readonly on: string;
  /** Days it is late; negative when it is still to come. */
  readonly daysOver: number;
}

export const DEFAULT_FOLLOW_UP: FollowUpPolicy = FollowUpPolicy.parse({});

/** Many devices share few days, and reading a day takes some microseconds: what was reckoned is kept for a while. */
function reckoned<A extends readonly (string | number)[], R>(reckon: (...given: A) => R): (...given: A) => R {
  const kept = new Map<string, R>();
  return (...given) => {
    const key = given.join(" ");
    let result = kept.get(key);
    if (result === undefined) {
      if (kept.size >= 5000) kept.clear();
      result = reckon(...given);
      kept.set(key, result);
    }
    return result;
  };
}

const day = (date: Date) => formatISO(date, { representation: "date" });
const dayOf = reckoned((moment: string) => day(parseISO(moment)));
const dayAfter = reckoned((from: string, days: number) => day(addDays(parseISO(from), days)));
const daysFrom = reckoned((from: string, to: string) => differenceInCalendarDays(parseISO(to), parseISO(from)));

/**
 * What is to be done next in a case, and on which day; null when nothing is.
 *
 * @param arrived day the device came in, as 2026-11-16
 * @param today   day to count from
 * @example dueOf({ state: "not-looked-at", since: null, … }, "2026-11-16", { actWithin: 2, … }, "2026-11-20") // { kind: "look", on: "2026-11-18", daysOver: 2 }
 */
export function dueOf(was: ClearanceCase, arrived: string, policy: FollowUpPolicy, today: string): Due | null {
  const due = (kind: DueKind, on: string): Due => ({
    kind,
    on,
    daysOver: daysFrom(on, today),
  });
  const since = was.since ? dayOf(was.since) : arrived;
  const soon = dayAfter(since, policy.actWithin);
  switch (was.state) {
    case "not-looked-at":
      return due("look", soon);
    case "none-present":
    case "removed":
      return due("confirm", soon);
    case "present":
      return due("ask", soon);
    case "managed":
    case "carrier-locked":
      return due("ask-issuer", soon);
    case "asked":
    case "release-asked":
    case "promised":
      return waitingDue(was, since, policy, due);
    default:
      return null;
  }
}

function waitingDue(
  was: ClearanceCase,
  since: string,
  policy: FollowUpPolicy,
  due: (kind: DueKind, on: string) => Due,
): Due {
  const after = (days: number) => dayAfter(was.askedAt ?? since, days);
  const decide = due("decide", after(policy.decideAfter));
  if (decide.daysOver >= 0) return decide;
  if (was.state === "promised") {
    const promised = was.promisedFor ?? dayAfter(since, policy.remindAfter);
    return promised < decide.on ? due("promise", promised) : decide;
  }
  if (was.reminders.length === 0) return due("remind", after(policy.remindAfter));
  if (was.reminders.length === 1) return due("remind-again", after(policy.remindAgainAfter));
  return decide;
}
