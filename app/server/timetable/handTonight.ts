import { db, guestAt, handOf } from "~/app/server/http/context";
import type { Hand } from "~/store/database";
import { openVolunteers } from "~/store/evenings";

/** Whose evening a page is looked at for, as its address says; null: nobody's. */
export const whoseTonight = (request: Request): string | null => new URL(request.url).searchParams.get("tonight");

/**
 * The hand of a request at the bench. In a house where nobody signs in, the hands that were chosen at Tonight are those that
 * did it; whoever is signed in did it themselves, whatever an address says.
 */
export function handTonight(request: Request): Hand {
  const hand = handOf(request);
  const guest = guestAt(request);
  const who = whoseTonight(request);
  const open = guest !== null && guest.session === null && guest.account === null;
  return open && openVolunteers(db()).some(({ name }) => name === who) ? { ...hand, by: who as string } : hand;
}
