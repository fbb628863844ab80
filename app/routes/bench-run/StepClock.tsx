import { useEffect, useState } from "react";
import { durationText } from "~/core/runbook/writeSheet";

/** A running clock beside what is usual and what is the latest. */
export function StepClock({ begunAt, usual, latest }: { begunAt: string; usual: number; latest: number }) {
  const [now, setNow] = useState<number | null>(null);
  useEffect(() => {
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  const seconds = now === null ? null : Math.max(0, Math.floor((now - Date.parse(begunAt)) / 1000));
  const late = seconds !== null && seconds > latest;
  return (
    <div className="my-3">
      <p className={`text-3xl font-bold tabular-nums ${late ? "text-stop" : ""}`} role="timer">
        {seconds === null
          ? `begun ${new Date(begunAt).toISOString().slice(11, 16)} UTC`
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
