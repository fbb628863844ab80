import { DANGERS, type DangerKind } from "~/core/device/danger";
import { change, type Hand, query, type Store } from "./database";
import { decide } from "./decisions";
import { findStanding } from "./devices";
import { inTransaction } from "./transaction";

export interface AsideRow extends Hand {
  readonly kind: DangerKind;
  readonly state: "aside" | "back";
  readonly note: string;
}

const ofDevice = query<{ device: number }, AsideRow>(`
  SELECT kind, state, note, at, by FROM set_aside WHERE device = @device ORDER BY id
`);
const insert = change<{ device: number; kind: string; state: string; note: string } & Hand>(`
  INSERT INTO set_aside (device, kind, state, note, at, by) VALUES (@device, @kind, @state, @note, @at, @by)
`);

export const asideHistory = (store: Store, device: number) => ofDevice(store, { device });

/**
 * Takes a device off the lane at once; an accepted way goes with it.
 *
 * @returns what is wrong in words, or null when it was written
 */
export function setAside(store: Store, tag: string, kind: DangerKind, note: string, hand: Hand): string | null {
  return inTransaction(store, () => {
    const standing = findStanding(store, tag);
    if (!standing) return `There is no device ${tag}`;
    if (standing.aside === kind) return `${tag} is set aside already`;
    insert(store, { device: standing.id, kind, state: "aside", note: note.trim(), ...hand });
    if (standing.way !== null)
      decide(
        store,
        standing.id,
        { way: null, proposed: null, reason: `set aside: ${DANGERS[kind].says.toLowerCase()}` },
        hand,
      );
    return null;
  });
}

/** Fewest letters that tell anything. */
const REASON_LETTERS = 5;

/** Puts a device back on the lane: somebody was mistaken, or a trained person has seen to it. @returns what is wrong, or null */
export function bringBack(store: Store, tag: string, reason: string, hand: Hand): string | null {
  return inTransaction(store, () => {
    const standing = findStanding(store, tag);
    if (!standing) return `There is no device ${tag}`;
    if (!standing.aside) return `${tag} is not set aside. Reload the page`;
    if (standing.clearance === "reported-lost" && standing.aside === "lost")
      return `${tag} is reported lost: settle that at Clearance first`;
    if (reason.trim().length < REASON_LETTERS) return "Write down why it may come back, and who looked at it";
    insert(store, { device: standing.id, kind: standing.aside, state: "back", note: reason.trim(), ...hand });
    return null;
  });
}
