import { AreaField, ChoiceField, TextField } from "~/app/ui/Field";
import { FORM_WORDS } from "~/app/ui/words";
import { HARDWARE_WORDS, Hardware } from "~/core/catalogue/common";
import { OWN_SCHOOLS, SCHOOLS } from "~/core/policy/schools";
import type { NeedText, Wrong } from "./needForm";

/** The group's part of a need: everything but its apps. */
export function NeedFields({ kept, wrong }: { kept: NeedText; wrong: Wrong }) {
  return (
    <>
      <TextField label="Name of the need" name="name" defaultValue={kept.name} wrong={wrong.name} />
      <TextField label="For whom" name="forWhom" defaultValue={kept.forWhom} wrong={wrong.forWhom} />
      <fieldset>
        <legend className="label">Hardware that must work</legend>
        <div className="columns-2 sm:columns-3">
          {Hardware.options.map((h) => (
            <label key={h} className="block">
              <input type="checkbox" name="hardware" value={h} defaultChecked={kept.hardware.includes(h)} />{" "}
              {HARDWARE_WORDS[h]}
            </label>
          ))}
        </div>
      </fieldset>
      <fieldset>
        <legend className="label">Takes</legend>
        {(["phone", "tablet", "box"] as const).map((f) => (
          <label key={f} className="mr-4">
            <input type="checkbox" name="forms" value={f} defaultChecked={kept.forms.includes(f)} /> {FORM_WORDS[f]}
          </label>
        ))}
        {wrong.forms && <p className="wrong">{wrong.forms}</p>}
      </fieldset>
      {OWN_SCHOOLS.map((key) => (
        <ChoiceField
          key={key}
          label={`${SCHOOLS[key].question}, for this group`}
          name={`schools.${key}`}
          defaultValue={kept.schools[key]}
          options={[
            { value: "", text: "as the house has it" },
            ...SCHOOLS[key].sides.map((s) => ({ value: s.value, text: s.says })),
          ]}
        />
      ))}
      <AreaField
        label="What the floor was"
        name="history"
        rows={5}
        mono
        defaultValue={kept.history}
        wrong={wrong.history}
        hint="One line each: date, API level or release, like 2024-03-01, 26. For the forecast of useful life."
      />
      <AreaField label="Note" name="note" rows={2} defaultValue={kept.note} wrong={wrong.note} />
      <TextField
        label="Where this comes from"
        name="source"
        defaultValue={kept.source}
        wrong={wrong.source}
        hint="The date of today is written beside it."
      />
    </>
  );
}
