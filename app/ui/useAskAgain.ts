import { useCallback, useRef } from "react";
import { useNavigation, useRevalidator } from "react-router";

/**
 * Asks the page's loaders again, but never while somebody is on the way to another page or an answer is awaited: the way would
 * begin anew each time, and whoever tapped would stay where they are.
 *
 * @returns whether it was asked
 */
export function useAskAgain(): () => boolean {
  const { revalidate, state } = useRevalidator();
  const navigation = useNavigation();
  const busy = useRef(false);
  busy.current = state !== "idle" || navigation.state !== "idle";
  return useCallback(() => {
    if (busy.current) return false;
    revalidate();
    return true;
  }, [revalidate]);
}
