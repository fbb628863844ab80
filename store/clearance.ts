import { type ClearanceEventKind, type ClearanceState, stepClearance } from "~/core/clearance/clearance";
import { change, type Hand, query, type Store } from "./database";
import { findStanding } from "./devices";

export interface ClearanceEventRow extends Hand {
  readonly id: number;
  readonly event: ClearanceEventKind;
  readonly state: ClearanceState;
  readonly evidence: string;
}

const events = query<{ device: number }, ClearanceEventRow>(`
  SELECT id, event, state, evidence, at, by FROM clearance_event WHERE device = @device ORDER BY id
`);
const insert = change<{ device: number; event: string; state: string; evidence: string } & Hand>(`
  INSERT INTO clearance_event (device, event, state, evidence, at, by)
  VALUES (@device, @event, @state, @evidence, @at, @by)
`);

export const clearanceEvents = (store: Store, device: number) => events(store, { device });

/**
 * Moves a clearance case on. The state is read inside the transaction, so two people can't both move it from the same state.
 *
 * @returns what is wrong in words, or null when it was written
 */
export function appendClearance(
  store: Store,
  tag: string,
  move: {
    readonly event: ClearanceEventKind;
    readonly evidence: string;
    readonly seen: ClearanceState;
    readonly api: number | null;
  },
  hand: Hand,
): string | null {
  return store.transaction(() => {
    const standing = findStanding(store, tag);
    if (!standing) return `There is no device ${tag}`;
    if (standing.clearance !== move.seen)
      return "Somebody else moved this case on in the meantime. What you typed is still here: look at the new state first";
    const step = stepClearance(standing.clearance, move.event, move.evidence, move.api);
    if (!step.ok) return step.says;
    insert(store, {
      device: standing.id,
      event: move.event,
      state: step.state,
      evidence: move.evidence.trim(),
      ...hand,
    });
    return null;
  })();
}
