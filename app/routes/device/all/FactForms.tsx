import { AreaField, ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { HARDWARE_WORDS, type Hardware } from "~/core/catalogue/common";
import { FACT_KEYS, FACTS } from "~/core/device/fact";

/** Writes one fact down. */
export function FactForm({ kept }: { kept: Readonly<Record<string, string>> | null }) {
  return (
    <Form
      method="post"
      className="mt-3 grid grid-cols-[minmax(0,1fr)] items-end gap-2 sm:grid-cols-[14rem_1fr_auto]"
      preventScrollReset
    >
      <input type="hidden" name="form" value="fact" />
      <ChoiceField
        label="Write down"
        name="key"
        defaultValue={kept?.key}
        options={FACT_KEYS.filter((k) => k !== "hardware.broken").map((k) => ({ value: k, text: FACTS[k].says }))}
      />
      <TextField label="Value" name="value" defaultValue={kept?.value} required />
      <button type="submit" className="btn">
        Save
      </button>
    </Form>
  );
}

/** Takes a pasted read-out. */
export function ReadOutForm({ kept }: { kept: string }) {
  return (
    <Form method="post" className="mt-2 space-y-2" preventScrollReset>
      <input type="hidden" name="form" value="read-out" />
      <AreaField
        label="Output of adb shell getprop, or fastboot getvar all"
        name="text"
        rows={5}
        defaultValue={kept}
        required
        spellCheck={false}
        mono
        hint="Everything may be pasted, prompts and all; what is not needed is passed over."
      />
      <button type="submit" className="btn">
        Read it
      </button>
    </Form>
  );
}

/** What does not work is ticked from the list: what is typed freely can't be held against a need. */
export function HardwareForm({ has, broken }: { has: readonly Hardware[]; broken: readonly Hardware[] }) {
  return (
    <Form method="post" readable className="mt-3" preventScrollReset>
      <input type="hidden" name="form" value="hardware" />
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
        <legend className="label">Broken hardware</legend>
        {has.map((h) => (
          <label key={h} className="inline-flex items-center gap-1">
            <input type="checkbox" name="broken" value={h} defaultChecked={broken.includes(h)} /> {HARDWARE_WORDS[h]}
          </label>
        ))}
      </fieldset>
      <button type="submit" className="btn mt-1 text-sm">
        Save what is ticked
      </button>
    </Form>
  );
}
