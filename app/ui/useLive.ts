import { useEffect, useRef } from "react";
import { useRevalidator } from "react-router";

/** News that come close together are asked for once, ms. */
const GATHER = 500;

/**
 * Asks the page's loaders again whenever something was written on the lane; without scripts a reload does the same. Only
 * while the page is seen: a browser has few connections to one house, and many tabs.
 *
 * @param revision where the lane stood when the page was made: what was written since is news as well
 */
export function useLive(on: boolean, revision: number) {
  const { revalidate } = useRevalidator();
  const known = useRef(revision);
  known.current = revision;
  useEffect(() => {
    if (!on) return;
    let source: EventSource | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const open = () => {
      source = new EventSource("/bench/live");
      source.onmessage = ({ data }) => {
        if (Number(data) === known.current) return;
        clearTimeout(timer);
        timer = setTimeout(revalidate, GATHER);
      };
    };
    const close = () => {
      source?.close();
      source = null;
    };
    const follow = () => (document.hidden ? close() : source === null && open());
    // Not at once: what the page itself needs goes first.
    const start = setTimeout(follow, 1500);
    document.addEventListener("visibilitychange", follow);
    return () => {
      clearTimeout(start);
      clearTimeout(timer);
      document.removeEventListener("visibilitychange", follow);
      close();
    };
  }, [on, revalidate]);
}
