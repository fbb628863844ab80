import { setTimeout as pause } from "node:timers/promises";
import type { Store } from "~/store/database";
import { beginForm, endForm, formSeen } from "~/store/formsSeen";
import { now } from "./clock";
import { leadOn } from "./leadOn";
import { refused } from "./refused";
import { FULL } from "./room";

/** How long a form that was sent twice waits for the first one to end, ms. */
const PATIENCE = 10_000;

/**
 * Takes a form as the first with its mark.
 *
 * @throws Response where it was sent before: it leads where the first one led; 507 where nothing can be written
 */
export async function claimForm(store: Store, mark: string, request: Request) {
  if (begin(store, mark)) return;
  for (let waited = 0; waited < PATIENCE; waited += 50) {
    const seen = formSeen(store, mark);
    // The first one was refused: this one may try.
    if (!seen) {
      if (begin(store, mark)) return;
    } else if (seen.ended) throw leadOn(seen.leads_to ?? pageOf(request), { status: 303 });
    await pause(50);
  }
  throw refused(
    409,
    "This form was sent twice, and the first one has not come to its end. Look at the page before you send it again",
  );
}

/** A mark is the first thing that a form writes: where there is no room for it, there is none for what it asks for. */
function begin(store: Store, mark: string): boolean {
  try {
    return beginForm(store, mark, now(store).toISOString());
  } catch (error) {
    if ((error as { code?: string }).code !== "SQLITE_FULL") throw error;
    throw refused(507, FULL);
  }
}

/** Writes how a form ended: where it led on; a refusal frees its mark, so that it can be mended and sent again. */
export function settleForm(store: Store, mark: string, status: number, leadsTo: string | null) {
  endForm(store, mark, status < 400, leadsTo);
}

const pageOf = (request: Request) => new URL(request.url).pathname.replace(/\.data$/, "");
