import { useCallback, useContext, useRef } from "react";
import { UNSAFE_DataRouterStateContext, useNavigation, useRevalidator } from "react-router";

/** So long an answer stands before what is worked out beside the page takes its place, ms: time to read it. */
const READ_MS = 20_000;

/**
 * Asks the page's loaders again, but never while somebody is on the way to another page or an answer is awaited: the way would
 * begin anew each time, and whoever tapped would stay where they are. When it asks, the router drops what the last action
 * answered, and what was typed with it: an answer is left to stand for a while.
 *
 * @returns asks, unless an answer stands that is younger than `stands` ms; tells whether it was asked
 */
export function useAskAgain(): (stands?: number) => boolean {
  const { revalidate, state } = useRevalidator();
  const navigation = useNavigation();
  const busy = useRef(false);
  busy.current = state !== "idle" || navigation.state !== "idle";
  // Whether an action of *any* route has answered the router tells nowhere else.
  const answer = useContext(UNSAFE_DataRouterStateContext)?.actionData ?? null;
  const answered = useRef({ answer, at: Date.now() });
  if (answered.current.answer !== answer) answered.current = { answer, at: Date.now() };
  return useCallback(
    (stands = READ_MS) => {
      const { answer, at } = answered.current;
      if (busy.current || (answer && Date.now() - at < stands)) return false;
      revalidate();
      return true;
    },
    [revalidate],
  );
}
