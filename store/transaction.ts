import { BUSY_TIMEOUT, type Store } from "./database";
import { sealHistory } from "./seal";

/**
 * Does something in one transaction that begins as a writing one: it waits its turn before it reads, so that nothing is
 * decided by what somebody else is just changing. What it appends to the history is sealed with it. Inside another
 * transaction it is a part of that one.
 *
 * @throws Error with the code SQLITE_BUSY when its turn does not come in five seconds; nothing was written
 * @source SQLite documentation, "Transactions": BEGIN IMMEDIATE
 */
export function inTransaction<R>(store: Store, work: () => R): R {
  const outermost = !store.inTransaction;
  return store
    .transaction(() => {
      const result = work();
      if (outermost) sealHistory(store);
      return result;
    })
    .immediate();
}

/**
 * The same, where nobody else is writing at this moment; it never waits.
 *
 * @returns whether it was done
 */
export const inTransactionIfFree = (store: Store, work: () => unknown): boolean =>
  withoutWaiting(store, () => inTransaction(store, work));

/** Whether nobody is writing at this moment, asked without waiting. */
export const mayWriteNow = (store: Store): boolean =>
  withoutWaiting(store, () => store.exec("BEGIN IMMEDIATE; ROLLBACK"));

/** Does something that has to wait for nobody. @returns false where somebody else is writing */
function withoutWaiting(store: Store, work: () => unknown): boolean {
  store.pragma("busy_timeout = 0");
  try {
    work();
    return true;
  } catch (error) {
    if ((error as { code?: string }).code !== "SQLITE_BUSY") throw error;
    return false;
  } finally {
    store.pragma(`busy_timeout = ${BUSY_TIMEOUT}`);
  }
}
