import { useEffect } from "react";
import { useRevalidator } from "react-router";

/** Asks the page's loader again whenever something was written on the lane; without scripts a reload does the same. */
export function useLive(on: boolean) {
  const { revalidate } = useRevalidator();
  useEffect(() => {
    if (!on) return;
    const source = new EventSource("/bench/live");
    let first = true;
    source.onmessage = () => {
      // The first message only says where things stand as the page opens.
      if (first) first = false;
      else revalidate();
    };
    return () => source.close();
  }, [on, revalidate]);
}
