import type { Tell } from "~/core/flashlog/pattern";
import { type ReadLog, VERDICT_WORDS } from "~/core/flashlog/readLog";
import { Scroll } from "./Scroll";
import { countText } from "./words";

const TELL_WORDS: Record<Tell, string> = { normal: "normal", harmless: "harmless here", look: "look", stop: "stop" };
const TELL_LOOKS: Record<Tell, string> = {
  normal: "text-soft",
  harmless: "text-lane-deep",
  look: "font-semibold text-signal",
  stop: "font-bold text-stop",
};

/** What a reading comes to, and what to do. */
export function VerdictLine({ read }: { readonly read: ReadLog }) {
  const { verdict, because, leftOut } = read;
  const bad = verdict === "stop" || verdict === "do-this";
  return (
    <div className={bad ? "rounded-md border-2 border-signal bg-signal-wash p-3" : "rounded-md border border-rule p-3"}>
      <p className="text-xl font-bold">{VERDICT_WORDS[verdict]}.</p>
      {because && (
        <>
          <p className="mt-1">
            Line {because.n}: {because.why}.
          </p>
          {because.next && <p className="mt-1 font-semibold">{because.next}.</p>}
        </>
      )}
      {leftOut > 0 && (
        <p className="mt-1">
          {leftOut.toLocaleString("en")} lines in the middle were not read: give a shorter piece to be sure.
        </p>
      )}
    </div>
  );
}

/** Every line, with what it means; what nobody knows stays without a word. */
export function LogLines({ read }: { readonly read: ReadLog }) {
  const shown = read.lines.slice(-400);
  return (
    <details className="mt-3" open={read.lines.length <= 40}>
      <summary className="cursor-pointer font-semibold">
        {countText(read.lines.length, "line")}, {read.lines.filter((l) => l.tell === null).length} of them not known
      </summary>
      {shown.length < read.lines.length && <p className="hint">The last {shown.length} of them:</p>}
      <Scroll label="Lines" className="mt-2">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col" className="n">
                Line
              </th>
              <th scope="col">What it said</th>
              <th scope="col">Means</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((l) => (
              <tr key={l.n}>
                <td className="n">{l.n}</td>
                <td className="font-mono text-sm break-all">{l.text}</td>
                <td className="text-sm">
                  {l.tell === null ? (
                    <span className="hint">not known</span>
                  ) : (
                    <>
                      <span className={TELL_LOOKS[l.tell]}>{TELL_WORDS[l.tell]}</span>: {l.why}
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </details>
  );
}
