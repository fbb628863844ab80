import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { DEVICE_END_WORDS, DEVICE_ENDS, type DeviceEnd } from "~/core/lane/station";

/** Where a device goes that goes no further: parts, recycling, back to its donor; and the way back onto the lane. */
export function EndDevice({ ended, kept }: { ended: DeviceEnd | null; kept: Readonly<Record<string, string>> | null }) {
  if (ended)
    return (
      <Form method="post" readable className="mt-2">
        <p>
          It went <strong>{DEVICE_END_WORDS[ended]}</strong>.
        </p>
        <input type="hidden" name="form" value="end" />
        <button type="submit" name="result" value="open" className="btn mt-1 text-sm">
          That was a mistake: back onto the lane
        </button>
      </Form>
    );
  return (
    <Form method="post" className="mt-2 space-y-2">
      <input type="hidden" name="form" value="end" />
      <ChoiceField
        label="Where it goes"
        name="result"
        defaultValue={kept?.result}
        options={DEVICE_ENDS.map((e) => ({ value: e, text: DEVICE_END_WORDS[e] }))}
      />
      <TextField label="Why" name="reason" defaultValue={kept?.reason} required minLength={5} />
      <p className="hint">
        Batteries and waste of this kind go where local rules say. What is still on its storage is the donor's: wipe it,
        or have the storage destroyed, before parts leave the house.
      </p>
      <button type="submit" className="btn-warn text-sm">
        It goes no further
      </button>
    </Form>
  );
}
