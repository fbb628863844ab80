import { AreaField, TextField } from "~/app/ui/Field";
import { countText } from "~/app/ui/words";
import type { Wrong } from "./readOpening";

const DAYS = [
  ["MO", "Mon"],
  ["TU", "Tue"],
  ["WE", "Wed"],
  ["TH", "Thu"],
  ["FR", "Fri"],
  ["SA", "Sat"],
  ["SU", "Sun"],
] as const;

/** Who somebody is at the bench: when they come, what they may do, how many devices they can mind. */
export function VolunteerFields({
  typed,
  days,
  may,
  ways,
  wrong,
}: {
  may: readonly string[];
  ways: readonly { readonly id: string; readonly says: string }[];
  typed: Readonly<Partial<Record<string, string>>>;
  days: readonly string[];
  wrong: Wrong;
}) {
  return (
    <>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-2">
        <TextField label="Name" name="name" required maxLength={80} defaultValue={typed.name} wrong={wrong.name} />
        <TextField
          label="Devices they can mind at once"
          name="minds"
          inputMode="numeric"
          defaultValue={typed.minds}
          wrong={wrong.minds}
        />
      </div>
      <fieldset>
        <legend className="label">Comes on (none ticked: every evening)</legend>
        <span className="flex flex-wrap gap-3">
          {DAYS.map(([value, name]) => (
            <label key={value} className="flex items-center gap-1">
              <input type="checkbox" name="days" value={value} defaultChecked={days.includes(value)} /> {name}
            </label>
          ))}
        </span>
      </fieldset>
      <details open={may.length > 0}>
        <summary>
          {may.length > 0 ? `May do ${countText(may.length, "way")}` : "May do every way; tick some to narrow it"}
        </summary>
        <fieldset className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-1 sm:grid-cols-2">
          <legend className="sr-only">Ways they may do (none ticked: every way)</legend>
          {ways.map(({ id, says }) => (
            <label key={id} className="flex items-start gap-2">
              <input type="checkbox" name="ways" value={id} defaultChecked={may.includes(id)} className="mt-1" /> {says}
            </label>
          ))}
        </fieldset>
      </details>
      <AreaField
        label="Away on, one day a line"
        name="away"
        rows={2}
        mono
        defaultValue={typed.away}
        wrong={wrong.away}
        hint="As 2026-12-08"
      />
    </>
  );
}
