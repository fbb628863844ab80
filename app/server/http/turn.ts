import { setTimeout as pause } from "node:timers/promises";
import { log } from "~/app/server/http/log";
import type { Store } from "~/store/database";
import { inTransactionIfFree, mayWriteNow } from "~/store/transaction";
import { refused } from "./refused";

/** How long a change waits for a long writing to end, ms, before the person is told: ten thousand rows on a slow computer take half of it. */
const PATIENCE = 30_000;
/** How long what nobody waits for is tried, ms. */
const LATEST = 120_000;

/**
 * Waits until nobody is writing; the database itself would wait with everything else standing still.
 *
 * @throws Response 503 in words, when its turn does not come
 */
export async function turnToWrite(store: Store, patience = PATIENCE) {
  for (let waited = 0; waited < patience; waited += 20) {
    if (mayWriteNow(store)) return;
    await pause(20);
  }
  throw refused(503, "Something long is being written. Nothing of yours was changed: try again in a moment");
}

/**
 * Writes what nobody waits for: at once, or as soon as a long writing has ended. That may be one which this very request
 * began: the page that shows how far it is must not come after it.
 *
 * @returns when it is written, or given up and in the log
 */
export async function writeSoon(store: Store, work: () => void, latest = LATEST): Promise<void> {
  try {
    for (let waited = 0; !inTransactionIfFree(store, work); waited += 50) {
      if (waited >= latest) throw new Error("something else was being written all the time");
      await pause(50);
    }
  } catch (error) {
    log.error({ err: error }, "how a request ended could not be written");
  }
}
