import { useEffect } from "react";
import { useAskAgain } from "./useAskAgain";

const LOOK_MS = 1000;

/** While something is worked out beside the pages, the page asks again; without scripts a reload does the same. */
export function useWatch(running: boolean) {
  const askAgain = useAskAgain();
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(askAgain, LOOK_MS);
    return () => clearInterval(timer);
  }, [running, askAgain]);
}
