import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { CLEARANCE_EVENTS, type ClearanceEventKind } from "~/core/clearance/events";
import { PROOF_WORDS, type Proof } from "~/core/clearance/proof";
import type { Typed } from "./act";

interface Props {
  readonly seen: number;
  readonly next: readonly ClearanceEventKind[];
  readonly proofs: readonly Proof[];
  readonly typed: Typed | undefined;
}

const look = (event: ClearanceEventKind) =>
  event === "confirmed-clear" ? "btn-main" : event === "reported-lost" ? "btn-warn" : "btn";

/** What happened, how it is known, and what shows it: asked for as the facts of the device require. */
export function CaseForm({ seen, next, proofs, typed }: Props) {
  const steps = next.filter((event) => event !== "note" && event !== "taken-back");
  return (
    <Form method="post" className="mt-3 space-y-3">
      <input type="hidden" name="seen" value={seen} />
      <AreaField
        label="How is it known?"
        name="evidence"
        rows={3}
        defaultValue={typed?.evidence}
        hint="Who signed out or answered, when, what the set-up screen showed. Required to open or shut the gate."
      />
      {next.includes("promised") && (
        <TextField
          label="Promised for (if the owner named a day)"
          name="promisedFor"
          type="date"
          defaultValue={typed?.promisedFor}
          className="max-w-60"
        />
      )}
      {next.includes("confirmed-clear") && (
        <fieldset>
          <legend className="label">What shows that it is clear?</legend>
          {proofs.map((proof) => (
            <label key={proof} className="flex items-start gap-2 py-0.5">
              <input
                type="checkbox"
                name="proof"
                value={proof}
                defaultChecked={typed?.proofs.includes(proof)}
                className="mt-1.5"
              />
              {PROOF_WORDS[proof]}
            </label>
          ))}
        </fieldset>
      )}
      <fieldset>
        <legend className="label">What happened?</legend>
        <div className="mt-1 flex flex-wrap gap-2">
          {steps.map((event) => (
            <button key={event} type="submit" name="event" value={event} className={look(event)}>
              {CLEARANCE_EVENTS[event].says}
            </button>
          ))}
        </div>
      </fieldset>
      <div className="flex flex-wrap gap-2 border-t border-rule pt-3">
        <button type="submit" name="event" value="note" className="btn text-sm">
          Only write this note
        </button>
        {next.includes("taken-back") && (
          <button type="submit" name="event" value="taken-back" className="btn text-sm">
            Take the last entry back
          </button>
        )}
      </div>
    </Form>
  );
}
