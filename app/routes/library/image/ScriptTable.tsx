import { Ban, CircleHelp } from "lucide-react";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { judgeScript, type LineKind } from "~/core/flashscript/readScript";

const MARKED: Partial<Record<LineKind, { readonly text: string; readonly className: string }>> = {
  lock: { text: "locks: never run", className: "bg-stop-wash font-bold" },
  unknown: { text: "not known: never run", className: "bg-wait-wash font-semibold" },
  wipe: { text: "wipes", className: "" },
};

/** The maker's script, read and explained line by line; nothing of it is run as it is. */
export function ScriptTable({ script }: { readonly script: string }) {
  const { lines, locks, unknown } = judgeScript(script);
  return (
    <section className="sheet mt-5" aria-labelledby="script">
      <h2 id="script">The maker's script, line by line</h2>
      <p className="hint">
        It is never run as it is: what is understood becomes steps of the sheet, with the real client.
      </p>
      {locks.length > 0 && (
        <Notice kind="wrong">
          Line {locks.map((l) => l.line).join(", ")} locks the device behind itself. This package is refused: take the
          variant that does not lock.
        </Notice>
      )}
      {unknown.length > 0 && (
        <Notice kind="caution">
          Line {unknown.map((l) => l.line).join(", ")}: not known, so the package is shown and not written.
        </Notice>
      )}
      <Scroll label="The maker's script">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col" className="n">
                Line
              </th>
              <th scope="col">As it stands there</th>
              <th scope="col">What it does</th>
            </tr>
          </thead>
          <tbody>
            {lines.map((l, i) => {
              const mark = MARKED[l.kind];
              return (
                <tr key={`${l.line}-${i}`} className={mark?.className}>
                  <td className="n">{l.line}</td>
                  <td>
                    <code className="text-sm break-all">{l.text}</code>
                  </td>
                  <td className={l.kind === "nothing" ? "text-soft" : undefined}>
                    {l.kind === "lock" && <Ban className="inline" size={16} aria-hidden="true" />}
                    {l.kind === "unknown" && <CircleHelp className="inline" size={16} aria-hidden="true" />} {l.says}
                    {mark && <span className="ml-1">({mark.text})</span>}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}
