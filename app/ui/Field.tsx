import { useId } from "react";
import { TextArea } from "./TextArea";

interface Common {
  readonly label: string;
  readonly name: string;
  readonly hint?: string;
  readonly wrong?: string | null;
  readonly className?: string;
}

function Wrapped({ label, hint, wrong, className, children, id }: Common & { id: string; children: React.ReactNode }) {
  return (
    <div className={className}>
      <label className="label" htmlFor={id}>
        {label}
      </label>
      {children}
      {hint && (
        <p className="hint" id={`${id}-hint`}>
          {hint}
        </p>
      )}
      {wrong && (
        <p className="wrong" id={`${id}-wrong`}>
          {wrong}
        </p>
      )}
    </div>
  );
}

const described = (id: string, { hint, wrong }: Common) =>
  [hint && `${id}-hint`, wrong && `${id}-wrong`].filter(Boolean).join(" ") || undefined;

export function TextField(props: Common & Omit<React.ComponentProps<"input">, "name" | "className">) {
  const id = useId();
  const { label, name, hint, wrong, className, ...input } = props;
  return (
    <Wrapped {...{ label, name, hint, wrong, className }} id={id}>
      <input
        id={id}
        name={name}
        className="field"
        // As long as the server takes it where nothing else is said (app/server/http/form.ts).
        maxLength={500}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={described(id, props)}
        {...input}
      />
    </Wrapped>
  );
}

export function AreaField(
  props: Common & { mono?: boolean } & Omit<React.ComponentProps<"textarea">, "name" | "className">,
) {
  const id = useId();
  const { label, name, hint, wrong, className, mono, ...area } = props;
  return (
    <Wrapped {...{ label, name, hint, wrong, className }} id={id}>
      <TextArea
        id={id}
        name={name}
        className={mono ? "field font-mono text-sm" : "field"}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={described(id, props)}
        {...area}
      />
    </Wrapped>
  );
}

export function ChoiceField(
  props: Common & { options: readonly { readonly value: string; readonly text: string }[] } & Omit<
      React.ComponentProps<"select">,
      "name" | "className"
    >,
) {
  const id = useId();
  const { label, name, hint, wrong, className, options, ...select } = props;
  return (
    <Wrapped {...{ label, name, hint, wrong, className }} id={id}>
      <select
        id={id}
        name={name}
        className="field"
        aria-invalid={wrong ? true : undefined}
        aria-describedby={described(id, props)}
        {...select}
      >
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.text}
          </option>
        ))}
      </select>
    </Wrapped>
  );
}
