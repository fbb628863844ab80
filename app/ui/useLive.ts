import { useEffect, useRef } from "react";
import { useAskAgain } from "./useAskAgain";

/** News that come close together are asked for once, ms. */
const GATHER = 500;

/** How often it is looked whether somebody is still writing, ms. */
const WAIT = 2000;

/** Forms in which something was written since they were last sent. */
const written = new Set<HTMLFormElement>();

function noteWriting(event: Event) {
  const form = event.target instanceof Element ? event.target.closest("form") : null;
  if (!form) return;
  if (event.type === "submit") written.delete(form);
  else written.add(form);
}

/** Whether somebody is writing in a form of the page that was not sent yet. */
const isBeingWritten = (): boolean => [...written].some((form) => form.isConnected);

/**
 * Asks the page's loaders again whenever something was written on the lane; without scripts a reload does the same. Only
 * while the page is seen, and once per page, for the frame around it: a browser has six connections to one house.
 *
 * @param revision where the lane stood when the page was made: what was written since is news as well
 */
export function useLive(on: boolean, revision: number) {
  const askAgain = useAskAgain();
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
        // What somebody is just writing, or has for an answer, stays as it is: news wait until they go on.
        const tell = () => {
          // On the way to another page it came along: asked again, what the lane has just answered would go.
          if (Number(data) <= known.current) return;
          if (isBeingWritten()) timer = setTimeout(tell, WAIT);
          else if (!askAgain(Number.POSITIVE_INFINITY)) timer = setTimeout(tell, GATHER);
        };
        timer = setTimeout(tell, GATHER);
      };
    };
    const close = () => {
      source?.close();
      source = null;
    };
    const follow = () => (document.hidden ? close() : source === null && open());
    for (const type of ["input", "submit"]) document.addEventListener(type, noteWriting, true);
    // Not at once: what the page itself needs goes first.
    const start = setTimeout(follow, 1500);
    document.addEventListener("visibilitychange", follow);
    return () => {
      clearTimeout(start);
      clearTimeout(timer);
      document.removeEventListener("visibilitychange", follow);
      for (const type of ["input", "submit"]) document.removeEventListener(type, noteWriting, true);
      close();
    };
  }, [on, askAgain]);
}
