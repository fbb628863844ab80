import { Form } from "~/app/ui/Form";
import { TextArea } from "~/app/ui/TextArea";

const ENDS = [
  { value: "starts", text: "It starts as before", hint: "The system that was on it comes up" },
  {
    value: "starts-otherwise",
    text: "It starts, with another system",
    hint: "What was written comes up, or something else: what runs is read before anything is planned",
  },
  { value: "does-not-start", text: "It does not start", hint: "It is planned to a rescue" },
  { value: "dead", text: "It is dead", hint: "Nothing answers: no screen, no client. It goes to parts" },
] as const;

/** Ends a run before its last step, with what is seen: the device is planned anew from there. */
export function EndRun({ place, note, open }: { place: number; note?: string; open: boolean }) {
  return (
    <details className="sheet mt-4 max-w-3xl" open={open || undefined}>
      <summary className="cursor-pointer font-semibold">This run goes no further: end it</summary>
      <Form method="post" className="mt-3 space-y-3">
        <input type="hidden" name="place" value={place} />
        <fieldset className="space-y-2">
          <legend className="label">How does it stand?</legend>
          {ENDS.map((e) => (
            <label key={e.value} className="flex items-baseline gap-2">
              <input type="radio" name="end" value={e.value} required />
              <span>
                <strong>{e.text}</strong> <span className="hint">{e.hint}</span>
              </span>
            </label>
          ))}
        </fieldset>
        <label className="block">
          <span className="label">What do you see on the device?</span>
          <TextArea name="note" rows={2} className="field" required minLength={5} defaultValue={note} />
        </label>
        <button type="submit" name="act" value="end" className="btn-warn">
          End the run
        </button>
      </Form>
    </details>
  );
}
