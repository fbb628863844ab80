import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import type { Wrong } from "./readOpening";

type Typed = { readonly hours: string; readonly closed: string; readonly line: string };

/** When the house is open, when it is not, and how fast files come in. */
export function OpeningForm({ typed, wrong, version }: { typed: Typed; wrong: Wrong; version: number }) {
  return (
    <>
      <Form method="post" readable className="mt-2 space-y-3" key={version}>
        <input type="hidden" name="what" value="opening" />
        <input type="hidden" name="version" value={version} />
        <AreaField
          label="Hours, one rule a line"
          name="hours"
          rows={3}
          mono
          defaultValue={typed.hours}
          wrong={wrong.hours}
          hint="A repeating rule as calendars have it (RFC 5545), the time, the minutes: FREQ=WEEKLY;BYDAY=TU,TH 18:00 180. Every second week, counted from a day: FREQ=WEEKLY;INTERVAL=2;BYDAY=TU 18:00 180 2026-12-01"
        />
        <AreaField
          label="Closed on, one day a line"
          name="closed"
          rows={2}
          mono
          defaultValue={typed.closed}
          wrong={wrong.closed}
          hint="As 2026-12-24"
        />
        <TextField
          label="Line into the house, Mbit/s"
          name="line"
          inputMode="decimal"
          defaultValue={typed.line}
          wrong={wrong.line}
          hint="Files that are not at hand are fetched over it before their first use. Empty: they are brought from elsewhere"
        />
        <button type="submit" className="btn-main">
          Save the hours
        </button>
      </Form>
      <Form method="post" encType="multipart/form-data" className="mt-4 flex flex-wrap items-end gap-2">
        <input type="hidden" name="what" value="days-off" />
        <input type="hidden" name="version" value={version} />
        <label>
          <span className="label">Holidays from a calendar (ICS)</span>
          <input type="file" name="calendar" accept=".ics,text/calendar" required className="field" />
        </label>
        <button type="submit" className="btn">
          Add its days
        </button>
      </Form>
    </>
  );
}
