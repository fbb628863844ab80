import { personOf, rememberPerson } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  return { person: personOf(request) };
}

export async function action({ request }: Route.ActionArgs) {
  const name = String((await readForm(request)).get("name") ?? "").trim();
  return leadOn("/", { headers: { "set-cookie": rememberPerson(name) } });
}

export default function Person({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <title>Who is at the desk · Upshift Lane</title>
      <h1>Who is at the desk?</h1>
      <p className="hint my-2">
        The name is written beside everything that is decided or done. It is kept on this computer only.
      </p>
      <Form method="post" className="sheet max-w-sm space-y-3">
        <TextField
          label="Your name"
          name="name"
          defaultValue={loaderData.person}
          maxLength={60}
          required
          autoComplete="name"
        />
        <button type="submit" className="btn-main">
          Remember me
        </button>
      </Form>
    </>
  );
}
