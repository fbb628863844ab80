import { Form } from "~/app/ui/Form";

import { valueAt } from "~/core/catalogue/editSection";
import type { Section, SectionField } from "~/core/catalogue/sections";
import { AreaField, ChoiceField, TextField } from "./Field";

type Options = readonly { readonly value: string; readonly text: string }[];
type Plain = Exclude<SectionField, { kind: "rows" }>;

export interface SectionFormProps {
  readonly section: Section;
  /** The entry as it stands. */
  readonly entry: object;
  readonly version: number;
  readonly models: Options;
  readonly images: Options;
  /** What was sent and refused, by field name; null where nothing was. */
  readonly kept: Readonly<Record<string, readonly string[]>> | null;
  readonly wrong: Readonly<Record<string, string>>;
  readonly submit: string;
}

/** Rows kept free for new ones, under those that are there. */
const SPARE = 2;

const shown = (value: unknown): string =>
  value === true ? "yes" : value === false ? "no" : value === null || value === undefined ? "" : String(value);

/** A part of a catalogue entry as a form: each field in the shape that suits it. */
export function SectionForm(props: SectionFormProps) {
  const { section, version, wrong, submit } = props;
  return (
    <Form method="post" className="sheet mt-3 max-w-4xl space-y-3">
      {/* Not "version": images have a field of that name. */}
      <input type="hidden" name="rests-on" value={version} />
      {wrong[""] && <p className="wrong">{wrong[""]}</p>}
      {section.fields.map((field) =>
        field.kind === "rows" ? (
          <Rows key={field.at} field={field} {...props} />
        ) : (
          <One key={field.at} field={field} name={field.at} value={valueAt(props.entry, field.at)} {...props} />
        ),
      )}
      <button type="submit" className="btn-main">
        {submit}
      </button>
    </Form>
  );
}

function One({
  field,
  name,
  value,
  kept,
  wrong,
  models,
  images,
  inRow,
}: SectionFormProps & { field: Plain; name: string; value: unknown; inRow?: boolean }) {
  const sent = kept?.[name];
  const common = { label: field.label, name, hint: field.hint, wrong: inRow ? undefined : wrong[field.at] };
  const text = sent ? (sent[0] ?? "") : Array.isArray(value) ? value.join(inRow ? " " : "\n") : shown(value);
  switch (field.kind) {
    case "checks": {
      const options = field.options === "models" ? models : field.options === "images" ? images : field.options;
      // A box that is not ticked is not sent: what was refused came without it, too.
      const chosen = (kept ? sent : (value as readonly string[] | undefined)) ?? [];
      return (
        <fieldset>
          <legend className="label">{field.label}</legend>
          <div className={inRow ? "max-h-28 overflow-y-auto text-sm" : "columns-1 sm:columns-2 lg:columns-3"}>
            {options.map((o) => (
              <label key={o.value} className="block">
                <input type="checkbox" name={name} value={o.value} defaultChecked={chosen.includes(o.value)} /> {o.text}
              </label>
            ))}
          </div>
          {common.wrong && <p className="wrong">{common.wrong}</p>}
        </fieldset>
      );
    }
    case "choice": {
      const options = field.options === "models" ? models : field.options === "images" ? images : field.options;
      return (
        <ChoiceField
          {...common}
          defaultValue={text}
          options={field.nullable ? [{ value: "", text: "none" }, ...options] : options}
        />
      );
    }
    case "yes-no":
      return (
        <ChoiceField
          {...common}
          defaultValue={text}
          className="max-w-sm"
          options={[
            ...(field.nullable ? [{ value: "", text: "not known" }] : []),
            { value: "yes", text: "yes" },
            { value: "no", text: "no" },
          ]}
        />
      );
    case "lines":
      return inRow ? (
        <TextField {...common} defaultValue={text} />
      ) : (
        <AreaField {...common} rows={4} defaultValue={text} />
      );
    case "area":
      // What lies in a file as it is: lines stay lines, and enough of them are seen to know which file it is.
      return (
        <AreaField
          {...common}
          mono={field.asIs}
          rows={field.asIs ? Math.min(16, Math.max(4, text.split("\n").length)) : 2}
          spellCheck={field.asIs ? false : undefined}
          defaultValue={text}
        />
      );
    case "number":
      return (
        <TextField {...common} defaultValue={text} inputMode="decimal" className={inRow ? undefined : "max-w-sm"} />
      );
    case "date":
      return <TextField {...common} defaultValue={text} type="date" className={inRow ? undefined : "max-w-sm"} />;
    default:
      return <TextField {...common} defaultValue={text} />;
  }
}

function Rows({ field, ...props }: SectionFormProps & { field: Extract<SectionField, { kind: "rows" }> }) {
  const rows = (valueAt(props.entry, field.at) as readonly object[] | undefined) ?? [];
  let count = rows.length + SPARE;
  while (props.kept?.[`${field.at}.${count}.${field.columns[0].at}`]) count++;
  return (
    <fieldset className="space-y-2">
      <legend className="label">{field.label}</legend>
      <p className="hint">
        {[field.hint, "Empty a row to take it out; free rows are for new ones"].filter(Boolean).join(". ")}.
      </p>
      {props.wrong[field.at] && <p className="wrong">{props.wrong[field.at]}</p>}
      {Array.from({ length: count }, (_, i) => (
        <div
          key={i}
          className="grid grid-cols-[minmax(0,1fr)] gap-2 rounded-md border border-rule p-2 sm:grid-cols-[repeat(auto-fit,minmax(8.5rem,1fr))]"
        >
          {field.columns.map((c) => (
            <One
              key={c.at}
              {...props}
              inRow
              field={c}
              name={`${field.at}.${i}.${c.at}`}
              value={rows[i] ? valueAt(rows[i], c.at) : ""}
            />
          ))}
        </div>
      ))}
    </fieldset>
  );
}
