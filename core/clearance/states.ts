import { z } from "zod";

/** States of the account-lock case of one device. */
export const ClearanceState = z.enum([
  "not-looked-at",
  "none-present",
  "present",
  "asked",
  "promised",
  "removed",
  "managed",
  "carrier-locked",
  "release-asked",
  "unreachable",
  "declined",
  "reported-lost",
  "confirmed-clear",
  "not-applicable",
]);
export type ClearanceState = z.infer<typeof ClearanceState>;

export interface ClearanceStateInfo {
  readonly says: string;
  readonly means: string;
  /** Whether planning and bench work may begin. */
  readonly opensGate: boolean;
  readonly verdict: "check-first" | "waiting" | "not-this-way" | null;
  /** Whose turn it is. */
  readonly turn: "us" | "them" | "nobody";
}

/** Only the last two open the gate. */
export const CLEARANCE_STATES: Record<ClearanceState, ClearanceStateInfo> = {
  "not-looked-at": {
    says: "Not looked at",
    means: "Nobody has looked yet whether an account is on it",
    opensGate: false,
    verdict: "check-first",
    turn: "us",
  },
  "none-present": {
    says: "No account seen",
    means: "No account was seen on it; the set-up screen has not confirmed it yet",
    opensGate: false,
    verdict: "check-first",
    turn: "us",
  },
  present: {
    says: "Account on it",
    means: "The earlier owner's account is still on the device, and the owner can be reached",
    opensGate: false,
    verdict: "waiting",
    turn: "us",
  },
  asked: {
    says: "Owner asked",
    means: "The owner was asked to sign out; waiting for the answer",
    opensGate: false,
    verdict: "waiting",
    turn: "them",
  },
  promised: {
    says: "Owner promised",
    means: "The owner said they will sign out; waiting for it to happen",
    opensGate: false,
    verdict: "waiting",
    turn: "them",
  },
  removed: {
    says: "Removed by owner",
    means: "The owner says the account is off; look at the set-up to confirm it",
    opensGate: false,
    verdict: "check-first",
    turn: "us",
  },
  managed: {
    says: "Managed by an organisation",
    means: "Only the issuing organisation can release it",
    opensGate: false,
    verdict: "waiting",
    turn: "us",
  },
  "carrier-locked": {
    says: "Carrier-locked",
    means: "Bound to one carrier's network; only the carrier can release it",
    opensGate: false,
    verdict: "waiting",
    turn: "us",
  },
  "release-asked": {
    says: "Release asked",
    means: "The organisation or carrier was asked for a written release; waiting for it",
    opensGate: false,
    verdict: "waiting",
    turn: "them",
  },
  unreachable: {
    says: "Owner out of reach",
    means: "Nobody answers: parts or recycling under local rules, unless an answer still comes",
    opensGate: false,
    verdict: "not-this-way",
    turn: "nobody",
  },
  declined: {
    says: "Declined",
    means: "The owner or issuer will not release it: parts or recycling under local rules",
    opensGate: false,
    verdict: "not-this-way",
    turn: "nobody",
  },
  "reported-lost": {
    says: "Reported lost",
    means: "Stop, set aside, hand over as local law says",
    opensGate: false,
    verdict: "not-this-way",
    turn: "nobody",
  },
  "confirmed-clear": {
    says: "Confirmed clear",
    means: "Signed out and the set-up shows no earlier account; or never signed in; or released in writing",
    opensGate: true,
    verdict: null,
    turn: "nobody",
  },
  "not-applicable": {
    says: "No lock possible",
    means: "Android below 5.1 and no maker's lock: there is nothing to clear",
    opensGate: true,
    verdict: null,
    turn: "nobody",
  },
};

/** States in which a case is still being worked on. */
export const OPEN_STATES: readonly ClearanceState[] = ClearanceState.options.filter(
  (s) => !CLEARANCE_STATES[s].opensGate && s !== "reported-lost",
);

/**
 * States with an end: the gate is open, or the device goes another way.
 *
 * @example isFinished("confirmed-clear") // true
 */
export const isFinished = (state: ClearanceState): boolean => CLEARANCE_STATES[state].turn === "nobody";
