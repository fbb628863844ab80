import { Form } from "~/app/ui/Form";

/** One thing to do, as a form of its own: it works before any script has loaded. */
export function Do({
  what,
  main = false,
  fields = {},
  children,
}: {
  what: string;
  main?: boolean;
  fields?: Readonly<Record<string, string | number>>;
  children: React.ReactNode;
}) {
  return (
    <Form method="post">
      <input type="hidden" name="what" value={what} />
      {Object.entries(fields).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <button type="submit" className={main ? "btn-main" : "btn"}>
        {children}
      </button>
    </Form>
  );
}
