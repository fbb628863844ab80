import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { type Found, SEPARATORS } from "~/core/lists/reading";

/** What was taken for what when the file was read: a person can say otherwise, and it is read anew. */
export function HowRead({ found, version }: { found: Found; version: number }) {
  const { heading, separator, sheet, sheets, blocks = [] } = found;
  return (
    <details className="sheet mt-3" open={blocks.some((b) => !b.carried)}>
      <summary className="cursor-pointer">
        <strong>How the file was read:</strong>{" "}
        {[
          sheet !== undefined && `sheet “${sheet}”`,
          separator !== undefined && `separated by ${SEPARATORS[separator]}`,
          heading === null ? "no heading" : `heading on line ${heading}`,
        ]
          .filter(Boolean)
          .join(", ")}
      </summary>
      <Form method="post" className="mt-2 flex flex-wrap items-end gap-3">
        <input type="hidden" name="version" value={version} />
        <input type="hidden" name="was.heading" value={String(heading ?? 0)} />
        {sheet !== undefined && <input type="hidden" name="was.sheet" value={sheet} />}
        {separator !== undefined && <input type="hidden" name="was.separator" value={separator} />}
        {sheets && sheets.length > 1 && (
          <ChoiceField
            label="Sheet"
            name="sheet"
            defaultValue={sheet}
            options={sheets.map((s) => ({ value: s, text: s }))}
          />
        )}
        {separator !== undefined && (
          <ChoiceField
            label="Separator"
            name="separator"
            defaultValue={separator}
            options={Object.entries(SEPARATORS).map(([value, text]) => ({ value, text }))}
          />
        )}
        <TextField
          label="Line of the heading (0: none)"
          name="heading"
          inputMode="numeric"
          defaultValue={String(heading ?? 0)}
          className="w-60"
        />
        {blocks.length > 0 && (
          <fieldset className="basis-full">
            <legend className="font-semibold">Stands once for a block: carry it down into the empty cells below</legend>
            {blocks.map((b) => (
              <label key={b.name} className="mr-4 inline-flex items-center gap-2">
                <input type="checkbox" name="carry" value={b.name} defaultChecked={b.carried} />
                {b.name} ({b.empty} empty)
              </label>
            ))}
          </fieldset>
        )}
        <button type="submit" name="do" value="reread" className="btn">
          Read it anew
        </button>
      </Form>
      <p className="hint mt-1">Cells that were mended here are read anew too: do this first.</p>
    </details>
  );
}
