import { type CaseEvent, type ClearanceMove, EventDetail, foldCase, stepClearance } from "~/core/clearance/case";
import { CLEARANCE_EVENTS } from "~/core/clearance/events";
import type { LockPossible } from "~/core/clearance/proof";
import type { ClearanceState } from "~/core/clearance/states";
import { bringBack, setAside } from "./aside";
import { change, type Hand, query, type Store } from "./database";
import { decide } from "./decisions";
import { findStanding } from "./devices";
import { inTransaction } from "./transaction";

export interface ClearanceEventRow extends CaseEvent {
  /** State it led to. */
  readonly state: ClearanceState;
}

type Row = Omit<ClearanceEventRow, "detail"> & { readonly device: number; readonly detail: string };

const eventsOfDevice = query<{ device: number }, Row>(`
  SELECT id, device, event, state, evidence, detail, at, by FROM clearance_event WHERE device = @device ORDER BY id
`);
const allEvents = query<object, Row>(`
  SELECT id, device, event, state, evidence, detail, at, by FROM clearance_event ORDER BY device, id
`);
const insert = change<{ device: number; event: string; state: string; evidence: string; detail: string } & Hand>(`
  INSERT INTO clearance_event (device, event, state, evidence, detail, at, by)
  VALUES (@device, @event, @state, @evidence, @detail, @at, @by)
`);

const toEvent = ({ device: _, detail, ...row }: Row): ClearanceEventRow => ({
  ...row,
  detail: EventDetail.parse(JSON.parse(detail)),
});

export const clearanceEvents = (store: Store, device: number) => eventsOfDevice(store, { device }).map(toEvent);

/** The events of every case by device: one query for many devices. */
export function eventsByDevice(store: Store): Map<number, ClearanceEventRow[]> {
  const by = new Map<number, ClearanceEventRow[]>();
  for (const row of allEvents(store, {})) {
    const list = by.get(row.device);
    if (list) list.push(toEvent(row));
    else by.set(row.device, [toEvent(row)]);
  }
  return by;
}

/**
 * Moves a clearance case on. The case is read inside the transaction, so two people can't both move it from the same
 * state; a note adds to the case and never collides. When the gate shuts, the accepted way is taken back with it; what is
 * reported lost is set aside.
 *
 * @param move `seen` is the newest event its page showed ({@link foldCase}); `lock` whether a lock is possible at all
 * @returns what is wrong in words, or null when it was written
 */
export function appendClearance(
  store: Store,
  tag: string,
  move: ClearanceMove & { readonly seen: number; readonly lock: LockPossible },
  hand: Hand,
): string | null {
  return inTransaction(store, () => {
    const standing = findStanding(store, tag);
    if (!standing) return `There is no device ${tag}`;
    const was = foldCase(clearanceEvents(store, standing.id));
    if (move.event !== "note" && was.newest !== move.seen)
      return "Somebody else moved this case on in the meantime. What you typed is still here: look at the new state first";
    const step = stepClearance(was, move, move.lock);
    if (!step.ok) return step.says;
    insert(store, {
      device: standing.id,
      event: move.event,
      state: step.state,
      evidence: move.evidence.trim(),
      detail: JSON.stringify(EventDetail.parse(move.detail ?? {})),
      ...hand,
    });
    if (step.state === "reported-lost" && was.state !== "reported-lost") setAside(store, tag, "lost", "", hand);
    if (was.state === "reported-lost" && step.state !== "reported-lost" && standing.aside === "lost")
      bringBack(store, tag, `Clearance: ${move.evidence.trim()}`, hand);
    if (step.shutsGate && standing.way !== null)
      decide(
        store,
        standing.id,
        { way: null, proposed: null, reason: `Clearance: ${CLEARANCE_EVENTS[move.event].says.toLowerCase()}` },
        hand,
      );
    return null;
  });
}
