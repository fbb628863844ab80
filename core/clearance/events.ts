import { z } from "zod";
import { type ClearanceState, OPEN_STATES } from "./states";

export const ClearanceEventKind = z.enum([
  "looked-none",
  "found-account",
  "asked-owner",
  "reminded",
  "promised",
  "removed-by-owner",
  "confirmed-clear",
  "no-lock-possible",
  "found-managed",
  "found-carrier-lock",
  "asked-issuer",
  "owner-declined",
  "gone-quiet",
  "lock-came-back",
  "reported-lost",
  "note",
  "taken-back",
]);
export type ClearanceEventKind = z.infer<typeof ClearanceEventKind>;

export interface ClearanceEventInfo {
  readonly says: string;
  readonly from: readonly ClearanceState[];
  /** Where it leads; "same" leaves the state, "before" goes back to where the last event came from. */
  readonly to: ClearanceState | "same" | "before";
  /** The event must tell how it is known. Whatever opens or shuts the gate must in any case. */
  readonly evidence: boolean;
}

const any: readonly ClearanceState[] = [...OPEN_STATES, "confirmed-clear", "not-applicable"];
const gateOpen: readonly ClearanceState[] = ["confirmed-clear", "not-applicable"];

/**
 * The whole machine: which event may happen in which state, and where it leads.
 *
 * docs/clearance.md shows this table; a test compares the two.
 */
export const CLEARANCE_EVENTS: Record<ClearanceEventKind, ClearanceEventInfo> = {
  "looked-none": {
    says: "Looked: no account on it",
    from: ["not-looked-at", "present"],
    to: "none-present",
    evidence: true,
  },
  "found-account": {
    says: "An account is on it",
    from: ["not-looked-at", "none-present", "removed"],
    to: "present",
    evidence: false,
  },
  "asked-owner": {
    says: "Owner asked to sign out",
    from: ["not-looked-at", "none-present", "present", "unreachable", "declined"],
    to: "asked",
    evidence: false,
  },
  reminded: { says: "Reminded", from: ["asked", "promised", "release-asked"], to: "same", evidence: false },
  promised: { says: "Owner promised", from: ["present", "asked", "unreachable"], to: "promised", evidence: false },
  "removed-by-owner": {
    says: "Owner says the account is off",
    from: ["present", "asked", "promised", "unreachable", "declined"],
    to: "removed",
    evidence: true,
  },
  "confirmed-clear": { says: "Confirmed clear", from: OPEN_STATES, to: "confirmed-clear", evidence: true },
  "no-lock-possible": {
    says: "No lock possible",
    from: ["not-looked-at", "none-present"],
    to: "not-applicable",
    evidence: true,
  },
  "found-managed": {
    says: "An organisation manages it",
    from: ["not-looked-at", "none-present", "present", "asked", "promised", "removed", ...gateOpen],
    to: "managed",
    evidence: false,
  },
  "found-carrier-lock": {
    says: "Carrier-locked",
    from: ["not-looked-at", "none-present", "present", "asked", "promised", "removed", ...gateOpen],
    to: "carrier-locked",
    evidence: false,
  },
  "asked-issuer": {
    says: "Release asked in writing",
    from: ["managed", "carrier-locked", "unreachable", "declined"],
    to: "release-asked",
    evidence: false,
  },
  "owner-declined": {
    says: "Declined",
    from: ["present", "asked", "promised", "managed", "carrier-locked", "release-asked", "unreachable"],
    to: "declined",
    evidence: false,
  },
  "gone-quiet": {
    says: "Can't be reached",
    from: ["present", "asked", "promised", "managed", "carrier-locked", "release-asked"],
    to: "unreachable",
    evidence: false,
  },
  "lock-came-back": { says: "A lock turned up later", from: gateOpen, to: "present", evidence: true },
  "reported-lost": { says: "Reported lost or stolen", from: any, to: "reported-lost", evidence: true },
  note: { says: "Note", from: [...any, "reported-lost"], to: "same", evidence: true },
  "taken-back": { says: "Last entry taken back", from: [...any, "reported-lost"], to: "before", evidence: false },
};
