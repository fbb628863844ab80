import { useEffect, useId, useRef, useState } from "react";

/**
 * A text area in which what was typed before the page's scripts came stays: when React takes a page over it gives a text
 * area its first text back (of all fields only to these), and what is sent then is not what was typed.
 */
export function TextArea(props: React.ComponentProps<"textarea">) {
  const made = useId();
  const { id = made } = props;
  const area = useRef<HTMLTextAreaElement>(null);
  // At the first render in the browser the page still holds what the server sent, and what was typed into it since.
  const [early] = useState(() => {
    if (typeof document === "undefined") return null;
    const found = document.getElementById(id);
    return found instanceof HTMLTextAreaElement ? found.value : null;
  });
  useEffect(() => {
    if (area.current && early !== null && area.current.value !== early) area.current.value = early;
  }, [early]);
  return <textarea {...props} id={id} ref={area} />;
}
