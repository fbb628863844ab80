import { Hand, MonitorCheck } from "lucide-react";
import { timeText } from "~/app/ui/words";
import type { StepTrace } from "./queries";

/** What was done so far: checked by a client, or by a person's word; with what the client said. */
export function DoneSteps({ traces }: { traces: readonly StepTrace[] }) {
  if (traces.length === 0) return null;
  return (
    <details className="sheet mt-4 max-w-3xl">
      <summary className="cursor-pointer font-semibold">Done so far ({traces.length})</summary>
      <ol className="mt-2 space-y-2" reversed start={traces[0].place + 1}>
        {traces.map((t) => {
          const values = Object.entries(t.values);
          return (
            <li key={t.place} value={t.place + 1} className="ml-6 list-decimal text-sm">
              <span className="font-semibold">{t.title}</span>{" "}
              <span className={t.by === "script" ? "font-bold text-lane-deep" : "text-soft"}>
                {t.by === "script" ? (
                  <MonitorCheck className="inline" size={15} aria-hidden="true" />
                ) : (
                  <Hand className="inline" size={15} aria-hidden="true" />
                )}{" "}
                {t.by === "script" ? "checked by the machine" : "by hand"}
              </span>
              <span className="hint block">
                {timeText(t.at)}, {t.who}
                {values.length > 0 && `; told: ${values.map(([k, v]) => `${k} ${v || "nothing"}`).join(", ")}`}
              </span>
              {t.output && (
                <details>
                  <summary className="cursor-pointer text-soft">what the client said</summary>
                  <pre className="overflow-x-auto rounded bg-[#25211b] p-2 text-xs whitespace-pre-wrap text-[#f7f2e8]">
                    {t.output}
                  </pre>
                </details>
              )}
            </li>
          );
        })}
      </ol>
    </details>
  );
}
