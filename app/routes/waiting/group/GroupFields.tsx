import { AreaField, ChoiceField, TextField } from "~/app/ui/Field";
import type { WaitingGroup } from "~/core/allocate/group";

export type Typed = Readonly<Partial<Record<keyof WaitingGroup, string>>>;

/** What a group is asked for: the same fields for a new one and for one that stands. */
export function GroupFields({
  typed,
  wrong,
  needs,
}: {
  typed: Typed;
  wrong: Typed;
  needs: readonly { readonly value: string; readonly text: string }[];
}) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-6">
      <TextField
        className="sm:col-span-3"
        label="Name"
        name="name"
        required
        maxLength={80}
        defaultValue={typed.name}
        wrong={wrong.name}
      />
      <ChoiceField
        className="sm:col-span-3"
        label="What they need"
        name="need"
        defaultValue={typed.need}
        options={needs}
        wrong={wrong.need}
      />
      <TextField
        className="sm:col-span-2"
        label="Devices they asked for"
        name="wanted"
        inputMode="numeric"
        required
        defaultValue={typed.wanted}
        wrong={wrong.wanted}
      />
      <TextField
        className="sm:col-span-2"
        label="Least useful number"
        name="least"
        inputMode="numeric"
        required
        defaultValue={typed.least}
        wrong={wrong.least}
        hint="Fewer help nobody there."
      />
      <TextField
        className="sm:col-span-2"
        label="By which day"
        name="by"
        type="date"
        required
        defaultValue={typed.by}
        wrong={wrong.by}
      />
      <TextField
        className="sm:col-span-2"
        label="Weight"
        name="weight"
        inputMode="decimal"
        defaultValue={typed.weight ?? "1"}
        wrong={wrong.weight}
        hint="2 counts twice when there is not enough."
      />
      <TextField
        className="sm:col-span-2"
        label="Spares they take too"
        name="spares"
        inputMode="numeric"
        defaultValue={typed.spares ?? "0"}
        wrong={wrong.spares}
        hint="Beyond what they asked for."
      />
      <TextField
        className="sm:col-span-2"
        label="Whom to write to"
        name="contact"
        maxLength={120}
        defaultValue={typed.contact}
        wrong={wrong.contact}
      />
      <label className="flex items-center gap-2 sm:col-span-6">
        <input type="checkbox" name="alike" value="yes" defaultChecked={typed.alike === "yes"} /> They would rather have
        devices of one model
      </label>
      <AreaField
        className="sm:col-span-6"
        label="Note"
        name="note"
        rows={2}
        maxLength={1000}
        defaultValue={typed.note}
        wrong={wrong.note}
      />
    </div>
  );
}
