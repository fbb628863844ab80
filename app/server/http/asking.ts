import { AsyncLocalStorage } from "node:async_hooks";

/** What is kept of a request while it is answered. */
export interface Asking {
  /** The mark of the form that was sent, when it bears one. */
  once: string | null;
  /** Where the answer leads, when it leads on. */
  leadsTo: string | null;
}

/** The request that is being answered; middleware opens it. */
export const asking = new AsyncLocalStorage<Asking>();
