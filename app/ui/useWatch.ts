import { useEffect } from "react";
import { useRevalidator } from "react-router";

const LOOK_MS = 1000;

/** While something is worked out beside the pages, the page asks again; without scripts a reload does the same. */
export function useWatch(running: boolean) {
  const { revalidate } = useRevalidator();
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(revalidate, LOOK_MS);
    return () => clearInterval(timer);
  }, [running, revalidate]);
}
