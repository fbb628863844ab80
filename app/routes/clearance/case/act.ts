import { casesOf, lockOf } from "~/app/server/clearance/cases";
import { exhibitFolder, keepExhibit, takeExhibitAway } from "~/app/server/clearance/exhibits";
import { dbFile } from "~/app/server/http/dbFile";
import { plannedDevice } from "~/app/server/planning/planning";
import { EventDetail } from "~/core/clearance/case";
import { ClearanceEventKind } from "~/core/clearance/events";
import { appendClearance } from "~/store/clearance";
import type { Hand, Store } from "~/store/database";
import type { Standing } from "~/store/devices";
import { findExhibit } from "~/store/exhibits";

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

/** Keeps a photo or paper, or takes one away. @returns what is wrong in words, or null */
export async function actOnFiles(store: Store, standing: Standing, form: FormData, hand: Hand): Promise<string | null> {
  const folder = exhibitFolder(dbFile());
  if (form.has("away")) {
    const exhibit = findExhibit(store, Number(form.get("away")));
    if (exhibit?.device !== standing.id || exhibit.removed) return "This file was taken away already";
    takeExhibitAway(store, folder, exhibit, hand.at);
    return null;
  }
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0) return "Choose a file first";
  const bytes = new Uint8Array(await file.arrayBuffer());
  return keepExhibit(store, folder, standing.id, { name: file.name, bytes }, hand);
}
