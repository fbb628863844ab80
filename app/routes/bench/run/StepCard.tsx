import { Check, Clipboard, TriangleAlert } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { VerdictLine } from "~/app/ui/LogLines";
import { Notice } from "~/app/ui/Notice";
import { TextArea } from "~/app/ui/TextArea";
import type { ReadLog } from "~/core/flashlog/readLog";
import type { Step } from "~/core/runbook/step";
import { durationText } from "~/core/runbook/writeSheet";
import { SEEN, type SeenTrouble } from "~/core/trouble/seen";
import { HoldKeys } from "./HoldKeys";
import { KeepFields } from "./KeepFields";
import { SettingsTable } from "./SettingsTable";
import { StepClock } from "./StepClock";
import { SeenPicker } from "./Trouble";

interface Props {
  readonly step: Step & { readonly command: string | null; readonly instead: readonly string[] };
  readonly place: number;
  readonly count: number;
  /** Seconds the step's clock runs already; null when it was not started. */
  readonly ran: number | null;
  readonly wrong: string | null;
  /** What the client said when it went wrong. */
  readonly words: string;
  readonly meaning: ReadLog | null;
  readonly tag: string;
  readonly note?: string;
  /** What can be seen to be wrong here, and what of it was picked. */
  readonly pick: readonly SeenTrouble[];
  readonly picked: SeenTrouble | null;
  /** The next steps for what was picked. */
  readonly help: React.ReactNode;
}

/** One step, large: what to do, the exact command, the clock, done or something is wrong. */
export function StepCard({ step, place, count, ran, wrong, words, meaning, tag, note, pick, picked, help }: Props) {
  const done = useRef<HTMLButtonElement>(null);
  const begin = useRef<HTMLButtonElement>(null);
  const trouble = useRef<HTMLDetailsElement>(null);
  const [copied, setCopied] = useState(false);
  const copy = () => {
    if (step.command) navigator.clipboard?.writeText(step.command).then(() => setCopied(true));
  };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.ctrlKey || event.metaKey || /^(input|textarea|select|button|summary|a)$/i.test(target.tagName)) return;
      if (event.key === " ") {
        event.preventDefault();
        done.current?.click();
      } else if (event.key === "c" && step.command)
        navigator.clipboard?.writeText(step.command).then(() => setCopied(true));
      else if (event.key === "t") begin.current?.click();
      else if (event.key === "!" && trouble.current) {
        event.preventDefault();
        trouble.current.open = true;
        trouble.current.querySelector("textarea")?.focus();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [step.command]);

  const seen = wrong?.split("\n")[0];
  return (
    <section className="sheet" aria-labelledby="step">
      <p className="font-semibold text-soft">
        Step {place + 1} of {count}
      </p>
      <progress
        className="h-2 w-full accent-lane"
        max={count}
        value={place}
        aria-label={`${place} of ${count} steps done`}
      />
      <h2 id="step" className="mt-2 text-3xl">
        {step.title}
      </h2>
      <p className="mt-2 text-xl">{step.says}</p>
      {step.deed.kind === "flasher" && <SettingsTable key={step.code} settings={step.deed.settings} />}
      {step.deed.kind === "hands" && step.deed.holds && <HoldKeys key={step.code} holds={step.deed.holds} />}
      {step.command && (
        <div className="my-3 flex flex-wrap items-center gap-2 rounded-md bg-[#25211b] p-3 text-[#f7f2e8]">
          <code className="max-h-64 min-w-0 grow overflow-y-auto text-lg break-all whitespace-pre-wrap">
            {step.command}
          </code>
          <button type="button" onClick={copy} className="btn">
            <Clipboard size={16} aria-hidden="true" /> {copied ? "Copied" : "Copy"} <kbd className="text-xs">c</kbd>
          </button>
        </div>
      )}
      {step.instead.length > 0 && (
        <p className="hint">
          Where that fails:{" "}
          {step.instead.map((text, i) => (
            <span key={text}>
              {i > 0 && ", then "}
              <code>{text}</code>
            </span>
          ))}
        </p>
      )}
      <dl className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-x-4 gap-y-1 text-lg sm:grid-cols-[6rem_1fr]">
        <dt className="text-soft">Normal</dt>
        <dd>{step.normal}</dd>
        <dt className="text-soft">Otherwise</dt>
        <dd>{step.otherwise}</dd>
        <dt className="text-soft">Takes</dt>
        <dd>
          usual {durationText(step.usualSeconds)}, latest {durationText(step.latestSeconds)}
        </dd>
        {step.neededBy && (
          <>
            <dt className="text-soft">Needed by</dt>
            <dd>{step.neededBy}</dd>
          </>
        )}
      </dl>
      {ran !== null && <StepClock ran={ran} usual={step.usualSeconds} latest={step.latestSeconds} />}
      {wrong !== null ? (
        <>
          <Notice kind="wrong">
            <p>Something went wrong here: {seen}</p>
            {words && words.trim() !== seen && (
              <pre className="mt-1 overflow-x-auto rounded bg-[#25211b] p-2 text-sm whitespace-pre-wrap text-[#f7f2e8]">
                {words}
              </pre>
            )}
          </Notice>
          {meaning && meaning.verdict !== "not-known" && (
            <div className="my-3">
              <VerdictLine read={meaning} />
            </div>
          )}
          <SeenPicker pick={pick} picked={picked} />
          {help}
          <p className="my-2">
            <Link to={`/bench/${tag}/log?step=${place + 1}`}>Read what it said, line by line</Link>
          </p>
          <Form method="post">
            <input type="hidden" name="place" value={place} />
            <button type="submit" name="act" value="again" className="btn-main text-lg">
              Try this step again
            </button>
          </Form>
        </>
      ) : (
        <>
          <Form method="post" className="mt-4 space-y-3">
            <input type="hidden" name="place" value={place} />
            {step.caution && (
              <div className="rounded-md border-2 border-signal bg-signal-wash p-3">
                <p className="font-bold">{step.caution}.</p>
                <label className="mt-2 flex items-center gap-2 font-semibold">
                  <input type="checkbox" name="yes" value="yes" className="size-5" /> Yes, that is meant
                </label>
              </div>
            )}
            {step.deed.kind === "gate" && step.deed.gate.kind === "keep" && (
              <KeepFields partitions={step.deed.gate.partitions} />
            )}
            {step.deed.kind === "gate" && step.deed.gate.kind === "uninstall" && (
              <label className="block">
                <span className="label">
                  Afterwards: paste what <code>adb shell pm list packages</code> says now
                </span>
                <TextArea name="packages" rows={4} className="field font-mono text-sm" spellCheck={false} />
              </label>
            )}
            <div className="flex flex-wrap gap-2">
              <button ref={done} type="submit" name="act" value="done" className="btn-main px-6 py-3 text-xl">
                <Check size={22} aria-hidden="true" /> Done <kbd className="text-sm">space</kbd>
              </button>
              {ran === null && (
                <button ref={begin} type="submit" name="act" value="begun" className="btn">
                  Start the clock <kbd className="text-xs">t</kbd>
                </button>
              )}
            </div>
          </Form>
          <details ref={trouble} className="mt-4" open={Boolean(note) || picked !== null || undefined}>
            <summary className="cursor-pointer font-semibold text-signal">
              <TriangleAlert className="inline" size={18} aria-hidden="true" /> Something is wrong{" "}
              <kbd className="text-xs">!</kbd>
            </summary>
            <SeenPicker pick={pick} picked={picked} />
            {help}
            <p className="mt-2">
              <Link to={`/bench/${tag}/log?step=${place + 1}`}>It said something: have it read</Link>
            </p>
            <Form method="post" className="mt-2 space-y-2">
              <input type="hidden" name="place" value={place} />
              <label className="block">
                <span className="label">What do you see?</span>
                <TextArea
                  name="note"
                  rows={3}
                  className="field"
                  defaultValue={note ?? (picked ? SEEN[picked].says : "")}
                />
              </label>
              <p className="flex flex-wrap gap-2">
                <button type="submit" name="act" value="wrong" className="btn-warn">
                  Write it down and stop here
                </button>
                <button type="submit" name="act" value="locked" className="btn-warn">
                  It asks for an earlier account: stop
                </button>
              </p>
            </Form>
          </details>
          {place > 0 && (
            <Form method="post" className="mt-3">
              <input type="hidden" name="place" value={place - 1} />
              <button type="submit" name="act" value="undone" className="btn text-sm">
                The step before was not done after all
              </button>
            </Form>
          )}
        </>
      )}
    </section>
  );
}
