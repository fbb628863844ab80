import { casesOf, lockOf } from "~/app/server/cases";
import { plannedDevice } from "~/app/server/planning";
import { EventDetail } from "~/core/clearance/case";
import { ClearanceEventKind } from "~/core/clearance/events";
import { appendClearance } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import type { Standing } from "~/store/devices";

/** What was typed on the case page; it comes back with every refusal. */
export interface Typed {
  readonly evidence: string;
  readonly proofs: readonly string[];
  readonly promisedFor: string;
}

export const typedIn = (form: FormData): Typed => ({
  evidence: String(form.get("evidence") ?? ""),
  proofs: form.getAll("proof").map(String),
  promisedFor: String(form.get("promisedFor") ?? ""),
});

/** Moves a case on as its page asks. @returns what is wrong in words, or null */
export function actOnCase(store: Store, standing: Standing, form: FormData, hand: Hand): string | null {
  const event = ClearanceEventKind.safeParse(form.get("event"));
  if (!event.success) return "Choose what happened";
  const typed = typedIn(form);
  const detail = EventDetail.safeParse({
    ...(event.data === "confirmed-clear" ? { proofs: typed.proofs } : {}),
    ...(event.data === "promised" && typed.promisedFor ? { promisedFor: typed.promisedFor } : {}),
  });
  if (!detail.success) return detail.error.issues[0].message;
  return appendClearance(
    store,
    standing.tag,
    {
      event: event.data,
      evidence: typed.evidence,
      detail: detail.data,
      // A page without a number has seen nothing: it can't move a case that has begun.
      seen: Number(form.get("seen") ?? 0),
      lock: lockOf(plannedDevice(store, standing)),
    },
    hand,
  );
}

/** The case of one device. */
export const caseOf = (store: Store, standing: Standing) => casesOf(store)(standing.id);
