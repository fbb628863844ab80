import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { OrderList } from "~/app/ui/OrderList";
import type { DivisionAims } from "~/core/allocate/aims";
import { AIM_WORDS, AIMS } from "~/core/allocate/question";

/** What counts first when devices are divided. */
export function AimsForm({ aims: { aims, confidence, leeway }, version }: { aims: DivisionAims; version: number }) {
  const order = [...aims, ...AIMS.filter((aim) => !aims.includes(aim))];
  return (
    <details className="sheet mt-4">
      <summary className="cursor-pointer font-semibold">What counts first</summary>
      <Form method="post" readable className="mt-2 max-w-3xl space-y-3" key={version}>
        <input type="hidden" name="what" value="aims" />
        <input type="hidden" name="version" value={version} />
        <p className="hint">
          The uppermost counts first: each aim is as good as can be before the next one is looked at. What is not ticked
          does not count. It holds from the next division on.
        </p>
        <OrderList
          name="place"
          counts={aims}
          items={order.map((aim) => ({ key: aim, says: AIM_WORDS[aim].name, why: AIM_WORDS[aim].why }))}
        />
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
            hint="Default 1; of a shortfall, points of what was asked for"
          />
        </div>
        <button type="submit" className="btn">
          Save what counts
        </button>
      </Form>
    </details>
  );
}
