import { useEffect } from "react";
import { useNavigate } from "react-router";

const inText = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(input|textarea|select)$/i.test(target.tagName));

/** Keys of the frame: digits for the stations, `/` for the search box, `?` for the list of keys. */
export function useShortcuts(stations: readonly string[], openHelp: () => void) {
  const navigate = useNavigate();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || inText(event.target)) return;
      const station = /^[1-9]$/.test(event.key) ? stations[Number(event.key) - 1] : undefined;
      if (station) navigate(station);
      else if (event.key === "/") {
        event.preventDefault();
        document.querySelector<HTMLInputElement>("#search")?.focus();
      } else if (event.key === "?") openHelp();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [stations, navigate, openHelp]);
}
