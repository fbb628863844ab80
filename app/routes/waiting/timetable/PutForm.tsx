import { ChoiceField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { dateText } from "~/app/ui/words";
import type { ShownEvening } from "./shown";

/** The same as carrying a piece, by a form: for those who would rather choose, and before scripts have loaded. */
export function PutForm({ evenings, people }: { evenings: readonly ShownEvening[]; people: readonly string[] }) {
  const pieces = evenings.flatMap(({ day, rows }) =>
    rows.flatMap(({ kind, pieces: own }) =>
      kind === "hands"
        ? own.map(({ key, device, title, begins }) => ({
            value: key,
            text: `${device}: ${title} (${dateText(day)}, ${begins})`,
          }))
        : [],
    ),
  );
  return (
    <details className="sheet no-print mt-4">
      <summary className="cursor-pointer font-semibold">Put a piece of work elsewhere</summary>
      <Form method="post" className="mt-2 flex flex-wrap items-end gap-2" preventScrollReset>
        <input type="hidden" name="what" value="put" />
        <ChoiceField label="Piece" name="piece" options={pieces} />
        <ChoiceField
          label="Whose hands"
          name="volunteer"
          options={people.map((name) => ({ value: name, text: name }))}
        />
        <label>
          <span className="label">When</span>
          <input type="datetime-local" name="start" className="field" required />
        </label>
        <button type="submit" className="btn">
          Put it there, and pin it
        </button>
      </Form>
    </details>
  );
}
