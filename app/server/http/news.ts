import { readRevisions } from "~/store/catalogue";
import { db } from "./context";

/** How often the database is asked whether anything was written, ms: once for all who listen. */
const LOOK = 400;

type Listener = (revision: number) => void;
const listeners = new Set<Listener>();
let timer: NodeJS.Timeout | undefined;
let seen = 0;

/** Where the lane stands now: moves with everything that is written. */
export const laneRevision = (): number => readRevisions(db()).lane;

/** Tells a listener whenever something was written. @returns what ends it */
export function onNews(listener: Listener): () => void {
  if (listeners.size === 0) {
    seen = laneRevision();
    timer = setInterval(() => {
      const now = laneRevision();
      if (now === seen) return;
      seen = now;
      for (const tell of listeners) tell(now);
    }, LOOK);
  }
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
    if (listeners.size === 0) clearInterval(timer);
  };
}
