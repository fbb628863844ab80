import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import type { DivisionAims } from "~/core/allocate/aims";
import { AIM_WORDS, AIMS } from "~/core/allocate/question";

/** What counts first when devices are divided. */
export function AimsForm({ aims: { aims, confidence, leeway }, version }: { aims: DivisionAims; version: number }) {
  const order = [...aims, ...AIMS.filter((aim) => !aims.includes(aim))];
  return (
    <details className="sheet mt-4">
      <summary className="cursor-pointer font-semibold">What counts first</summary>
      <Form method="post" className="mt-2 max-w-3xl space-y-3" key={version}>
        <input type="hidden" name="what" value="aims" />
        <input type="hidden" name="version" value={version} />
        <p className="hint">
          1 counts first: each aim is as good as can be before the next one is looked at. An aim without a place does
          not count. It holds from the next division on.
        </p>
        <ol className="space-y-1">
          {order.map((aim) => (
            <li key={aim} className="flex items-start gap-2">
              <input
                type="number"
                name={`place.${aim}`}
                aria-label={`Place of: ${AIM_WORDS[aim].name}`}
                min={0}
                max={AIMS.length}
                defaultValue={aims.includes(aim) ? aims.indexOf(aim) + 1 : ""}
                className="field w-16 shrink-0"
              />
              <span>
                {AIM_WORDS[aim].name}
                <span className="hint block">{AIM_WORDS[aim].why}</span>
              </span>
            </li>
          ))}
        </ol>
        <div className="grid grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-2">
          <TextField
            label="How sure a least number has to be, per cent"
            name="confidence"
            inputMode="numeric"
            defaultValue={String(Math.round(confidence * 100))}
            hint="Default 80: surer means more devices for the same promise"
          />
          <TextField
            label="What an aim may give way for the next, per cent"
            name="leeway"
            inputMode="decimal"
            defaultValue={String(Number((leeway * 100).toFixed(2)))}
            hint="Default 0.5"
          />
        </div>
        <button type="submit" className="btn">
          Save what counts
        </button>
      </Form>
    </details>
  );
}
