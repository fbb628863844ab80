import { useEffect } from "react";
import { useAskAgain } from "./useAskAgain";

const LOOK_MS = 1000;

/**
 * While something goes on beside the pages, the page asks again; without scripts a reload does the same.
 *
 * @param every milliseconds between two askings
 */
export function useWatch(running: boolean, every = LOOK_MS) {
  const askAgain = useAskAgain();
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(askAgain, every);
    return () => clearInterval(timer);
  }, [running, every, askAgain]);
}
