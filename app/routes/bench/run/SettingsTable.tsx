import { Check, X } from "lucide-react";
import { useState } from "react";
import { EDITION_WORDS } from "~/core/catalogue/flasherSlots";
import type { FlasherSettings } from "~/core/runbook/step";

/** What is set in the flasher's window, as it stands there: each line is ticked off when it is set. */
export function SettingsTable({ settings }: { readonly settings: FlasherSettings }) {
  const [set, setSet] = useState<ReadonlySet<string>>(new Set());
  const toggle = (name: string) =>
    setSet((was) => new Set(was.has(name) ? [...was].filter((n) => n !== name) : [...was, name]));
  const of = settings.slots.length + settings.rows.length + settings.ticks.length;
  const line = (name: string, label: string, value: React.ReactNode) => (
    <tr key={name} className={set.has(name) ? "bg-lane-wash" : undefined}>
      <td className="p-2">
        <input
          type="checkbox"
          className="size-5"
          checked={set.has(name)}
          onChange={() => toggle(name)}
          aria-label={`${label}: set`}
        />
      </td>
      <th scope="row" className="p-2 text-left text-lg font-semibold text-ink">
        {label}
      </th>
      <td className="p-2">{value}</td>
    </tr>
  );
  return (
    <div className="my-3 rounded-md border-2 border-rule">
      <p className="border-b border-rule bg-lane-wash/50 px-3 py-2 font-semibold">
        In the flasher, {settings.edition ? EDITION_WORDS[settings.edition] : "the board's row list"}{" "}
        <span className="float-right font-normal text-soft" aria-live="polite">
          {set.size} of {of} set
        </span>
      </p>
      {settings.list && (
        <details className="border-b border-rule px-3 py-2">
          <summary className="cursor-pointer font-semibold">The partition list, cleaned</summary>
          <pre className="mt-1 overflow-x-auto text-sm whitespace-pre-wrap">{settings.list}</pre>
        </details>
      )}
      <table className="w-full text-lg">
        <caption className="sr-only">Slots and ticks of the flasher</caption>
        <tbody className="divide-y divide-rule">
          {settings.slots.map(({ slot, file }) =>
            line(slot, slot, file ? <FilePath file={file} /> : <span className="text-soft">leave empty</span>),
          )}
          {settings.rows.map(({ row, file, on }) =>
            line(
              `row ${row}`,
              row,
              on ? (
                <span>
                  <Check className="inline" size={18} aria-hidden="true" /> ticked{" "}
                  <FilePath file={file?.replace(/^kept:/, "") ?? ""} />
                </span>
              ) : (
                <span className="text-soft">
                  <X className="inline" size={18} aria-hidden="true" /> not ticked
                </span>
              ),
            ),
          )}
          {settings.ticks.map(({ tick, says, on }) =>
            line(
              tick,
              says,
              on ? (
                <span className="font-bold">
                  <Check className="inline" size={18} aria-hidden="true" /> ticked
                </span>
              ) : (
                <span className="text-soft">
                  <X className="inline" size={18} aria-hidden="true" /> not ticked
                </span>
              ),
            ),
          )}
        </tbody>
      </table>
    </div>
  );
}

/** A file's place; a long one breaks behind its folder. */
function FilePath({ file }: { readonly file: string }) {
  const at = file.indexOf("/") + 1;
  return (
    <code className="text-base break-words">
      {file.slice(0, at)}
      <wbr />
      {file.slice(at)}
    </code>
  );
}
