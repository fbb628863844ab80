import { z } from "zod";

/** States of the account-lock case of one device. */
export const ClearanceState = z.enum([
  "not-looked-at",
  "present",
  "asked",
  "managed",
  "declined",
  "reported-lost",
  "confirmed-clear",
  "not-applicable",
]);
export type ClearanceState = z.infer<typeof ClearanceState>;

export const ClearanceEventKind = z.enum([
  "found-account",
  "found-managed",
  "asked-owner",
  "confirmed-clear",
  "no-lock-possible",
  "owner-declined",
  "reported-lost",
  "lock-came-back",
]);
export type ClearanceEventKind = z.infer<typeof ClearanceEventKind>;

export interface ClearanceStateInfo {
  readonly says: string;
  readonly means: string;
  /** Whether planning and bench work may begin. */
  readonly opensGate: boolean;
  readonly verdict: "check-first" | "waiting" | "not-this-way" | null;
}

export const CLEARANCE_STATES: Record<ClearanceState, ClearanceStateInfo> = {
  "not-looked-at": {
    says: "Not looked at",
    means: "Nobody has looked yet whether an account is on it",
    opensGate: false,
    verdict: "check-first",
  },
  present: {
    says: "Account on it",
    means: "The earlier owner's account is still on the device",
    opensGate: false,
    verdict: "waiting",
  },
  asked: {
    says: "Owner asked",
    means: "The owner was asked to sign out; waiting for the answer",
    opensGate: false,
    verdict: "waiting",
  },
  managed: {
    says: "Managed by an organisation",
    means: "Only the issuing organisation can release it",
    opensGate: false,
    verdict: "waiting",
  },
  declined: {
    says: "Owner declined",
    means: "The owner will not release it: parts or recycling under local rules",
    opensGate: false,
    verdict: "not-this-way",
  },
  "reported-lost": {
    says: "Reported lost",
    means: "Stop, set aside, hand over as local law says",
    opensGate: false,
    verdict: "not-this-way",
  },
  "confirmed-clear": {
    says: "Confirmed clear",
    means: "Signed out, and the set-up shows no earlier account",
    opensGate: true,
    verdict: null,
  },
  "not-applicable": {
    says: "No lock possible",
    means: "Android below 5.1 and no maker's lock: there is nothing to clear",
    opensGate: true,
    verdict: null,
  },
};

export interface ClearanceEventInfo {
  readonly says: string;
  readonly from: readonly ClearanceState[];
  readonly to: ClearanceState;
  /** The event must tell how it is known. */
  readonly evidence: boolean;
}

const open: readonly ClearanceState[] = ["not-looked-at", "present", "asked", "managed", "declined"];

/** The whole machine: which event may happen in which state, and where it leads. */
export const CLEARANCE_EVENTS: Record<ClearanceEventKind, ClearanceEventInfo> = {
  "found-account": { says: "An account is on it", from: ["not-looked-at"], to: "present", evidence: false },
  "found-managed": {
    says: "An organisation manages it",
    from: ["not-looked-at", "present"],
    to: "managed",
    evidence: false,
  },
  "asked-owner": {
    says: "Owner asked to sign out",
    from: ["not-looked-at", "present", "managed", "asked"],
    to: "asked",
    evidence: false,
  },
  "confirmed-clear": { says: "Confirmed clear", from: open, to: "confirmed-clear", evidence: true },
  "no-lock-possible": { says: "No lock possible", from: ["not-looked-at"], to: "not-applicable", evidence: true },
  "owner-declined": { says: "Owner declined", from: ["present", "asked", "managed"], to: "declined", evidence: false },
  "reported-lost": {
    says: "Reported lost or stolen",
    from: [...open, "confirmed-clear", "not-applicable"],
    to: "reported-lost",
    evidence: true,
  },
  "lock-came-back": {
    says: "A lock turned up later",
    from: ["confirmed-clear", "not-applicable"],
    to: "present",
    evidence: true,
  },
};

/** From this API level on a reset device asks for the earlier account (platform fact: Android 5.1). */
export const ACCOUNT_LOCK_FROM_API = 22;

export type ClearanceStep =
  | { readonly ok: true; readonly state: ClearanceState }
  | { readonly ok: false; readonly says: string };

/**
 * What an event leads to.
 *
 * @param evidence how it is known, in words; required for events that open or close the gate
 * @param api current API level, or null when not known; "no lock possible" is refused from 22 on and when unknown
 */
export function stepClearance(
  state: ClearanceState,
  event: ClearanceEventKind,
  evidence: string,
  api: number | null,
): ClearanceStep {
  const info = CLEARANCE_EVENTS[event];
  if (!info.from.includes(state)) {
    return {
      ok: false,
      says: `“${info.says}” does not follow “${CLEARANCE_STATES[state].says}”. Reload the page: somebody may have moved the case on`,
    };
  }
  if (info.evidence && evidence.trim().length < 5) {
    return { ok: false, says: `Write down how you know it (for example who signed out, and what the set-up showed)` };
  }
  if (event === "no-lock-possible") {
    if (api === null)
      return { ok: false, says: "Write down the Android version first: the lock exists from Android 5.1 on" };
    if (api >= ACCOUNT_LOCK_FROM_API)
      return {
        ok: false,
        says: "This device runs Android 5.1 or later, so a lock is possible: look at the set-up screen",
      };
  }
  return { ok: true, state: info.to };
}

/** Events that may happen now, in the order they are offered. */
export function eventsFrom(state: ClearanceState): ClearanceEventKind[] {
  return ClearanceEventKind.options.filter((event) => CLEARANCE_EVENTS[event].from.includes(state));
}
