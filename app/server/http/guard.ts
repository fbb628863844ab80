import { setTimeout as pause } from "node:timers/promises";
import type { MiddlewareFunction } from "react-router";
import { inTransaction } from "~/store/transaction";
import { asking } from "./asking";
import { db } from "./context";
import { settleForm } from "./once";
import { refused } from "./refused";

/** How long a change waits for a long writing to end, ms, before the person is told. */
const PATIENCE = 15_000;

/** Around every request: changes wait their turn without holding up anybody's reading, and how a form ended is kept. */
export const guard: MiddlewareFunction<Response> = async ({ request }, next) =>
  asking.run({ once: null, leadsTo: null }, async () => {
    if (request.method === "POST") await turnToWrite();
    const response = await next();
    const here = asking.getStore();
    if (here?.once) settleForm(db(), here.once, response.status, here.leadsTo);
    // What was appended by single statements is sealed with the request.
    if (request.method === "POST") inTransaction(db(), () => {});
    if (!response.headers.has("content-security-policy"))
      response.headers.set("content-security-policy", "default-src 'none'; frame-ancestors 'none'");
    return response;
  });

/** Waits until nobody is writing; the database itself would wait with everything else standing still. */
async function turnToWrite() {
  const store = db();
  for (let waited = 0; waited < PATIENCE; waited += 20) {
    store.pragma("busy_timeout = 0");
    try {
      store.exec("BEGIN IMMEDIATE; ROLLBACK");
      return;
    } catch (error) {
      if ((error as { code?: string }).code !== "SQLITE_BUSY") throw error;
    } finally {
      store.pragma("busy_timeout = 5000");
    }
    await pause(20);
  }
  throw refused(503, "Something long is being written. Nothing of yours was changed: try again in a moment");
}
