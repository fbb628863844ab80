import type { EntryChange } from "~/app/server/catalogue/entryHistory";
import { Form } from "~/app/ui/Form";
import { timeText } from "./words";

/** Who changed a catalogue entry, when and what; the last change can be taken back. */
export function EntryHistory({ version, changes }: { version: number; changes: readonly EntryChange[] }) {
  return (
    <section className="sheet mt-5" aria-labelledby="history">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 id="history">History</h2>
        {changes.length > 1 && (
          <Form method="post">
            <input type="hidden" name="version" value={version} />
            <button type="submit" name="do" value="undo" className="btn">
              Take the last change back
            </button>
          </Form>
        )}
      </div>
      <ol className="mt-1 space-y-1">
        {changes.map((c, i) => (
          <li key={i}>
            <span className="text-soft">
              {timeText(c.at)}, {c.by}:
            </span>{" "}
            {c.says.length === 0 ? "first written" : c.says.slice(0, 6).join("; ")}
            {c.says.length > 6 && `; and ${c.says.length - 6} more`}
          </li>
        ))}
      </ol>
    </section>
  );
}
