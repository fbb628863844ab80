import { useEffect, useState } from "react";
import { durationText } from "~/core/runbook/writeSheet";

/**
 * A running clock beside what is usual and what is the latest.
 *
 * @param ran seconds it ran when the page was made: the page's own clock may be another than the server's
 */
export function StepClock({ ran, usual, latest }: { ran: number; usual: number; latest: number }) {
  const [seconds, setSeconds] = useState<number | null>(null);
  useEffect(() => {
    const from = Date.now() - ran * 1000;
    const tick = () => setSeconds(Math.max(0, Math.floor((Date.now() - from) / 1000)));
    tick();
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, [ran]);
  const late = seconds !== null && seconds > latest;
  return (
    <div className="my-3">
      <p className={`text-3xl font-bold tabular-nums ${late ? "text-stop" : ""}`} role="timer">
        {seconds === null
          ? `begun ${durationText(ran)} ago`
          : `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`}
      </p>
      <progress
        className="h-3 w-full accent-lane"
        max={latest}
        value={Math.min(seconds ?? 0, latest)}
        aria-label={`usual ${durationText(usual)}, latest ${durationText(latest)}`}
      />
      {late && <p className="wrong">Later than it should be: look at “otherwise”, or choose “something is wrong”.</p>}
    </div>
  );
}
