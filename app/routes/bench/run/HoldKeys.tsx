import { Timer } from "lucide-react";
import { useEffect, useState } from "react";
import type { Hold } from "~/core/runbook/step";

const TICK_MS = 100;

/** Keys and their seconds, with a counter that says when to change: press start and the keys in the same moment. */
export function HoldKeys({ holds }: { readonly holds: readonly Hold[] }) {
  const [began, setBegan] = useState<number | null>(null);
  const [now, setNow] = useState(0);
  const total = holds.reduce((sum, h) => sum + h.seconds, 0);
  const gone = began === null ? 0 : Math.min(total, (now - began) / 1000);
  const over = began !== null && gone >= total;
  useEffect(() => {
    if (began === null || over) return;
    const timer = setInterval(() => setNow(Date.now()), TICK_MS);
    return () => clearInterval(timer);
  }, [began, over]);
  let before = 0;
  return (
    <div className="my-3 rounded-md border-2 border-rule p-3">
      <ol className="space-y-3">
        {holds.map(({ keys, seconds }, i) => {
          const here = Math.max(0, Math.min(seconds, gone - before));
          before += seconds;
          return (
            <li key={`${keys.join()}-${i}`}>
              <p className="flex flex-wrap items-center gap-2 text-lg">
                {keys.map((key) => (
                  <kbd key={key} className="rounded border-2 border-ink px-2 py-1 font-semibold">
                    {key}
                  </kbd>
                ))}
                <span>
                  for {seconds} s{i < holds.length - 1 && ", then at once"}
                </span>
                <span className="ml-auto font-mono text-2xl" aria-hidden="true">
                  {here.toFixed(1)}
                </span>
              </p>
              <progress
                className="h-3 w-full accent-lane"
                max={seconds}
                value={here}
                aria-label={`${keys.join(" and ")} held`}
              />
            </li>
          );
        })}
      </ol>
      <p className="mt-3 flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn"
          onClick={() => {
            setNow(Date.now());
            setBegan(Date.now());
          }}
        >
          <Timer size={16} aria-hidden="true" /> {began === null ? "Count the seconds" : "Count again"}
        </button>
        <span role="status">{over ? "Let go now." : began === null ? "" : "Keep holding."}</span>
      </p>
    </div>
  );
}
