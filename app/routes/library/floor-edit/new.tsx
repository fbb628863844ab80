import { data } from "react-router";
import { today } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { refusalOf } from "~/app/server/http/refusal";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { saveEntry } from "~/store/catalogue";
import type { Route } from "./+types/new";
import { NeedFields } from "./NeedFields";
import { EMPTY, needOfText, textOfForm } from "./needForm";

export async function action({ request }: Route.ActionArgs) {
  const text = textOfForm(await readForm(request));
  const read = needOfText(text, null, today(db()));
  if (!read.ok)
    return data({ text, wrong: read.wrong, says: "Nothing was saved: look at the marked fields" }, { status: 400 });
  try {
    saveEntry(db(), "need", read.need, 0, handOf(request));
  } catch (error) {
    refusalOf(error);
    return data(
      { text, wrong: { name: "There is a need of this name already" }, says: "Nothing was saved" },
      { status: 409 },
    );
  }
  return leadOn(`/floors/${read.need.id}/apps`);
}

export default function FloorNew({ actionData }: Route.ComponentProps) {
  const kept = actionData?.text ?? EMPTY;
  const wrong: Record<string, string> = actionData?.wrong ?? {};
  return (
    <>
      <title>A new need · Upshift Lane</title>
      <p className="hint">
        <Link to="/floors">App floors</Link>
      </p>
      <h1>A new need</h1>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      <Form method="post" className="sheet mt-3 max-w-3xl space-y-3">
        <NeedFields kept={kept} wrong={wrong} />
        <fieldset className="grid grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-2">
          <TextField label="First app" name="app" defaultValue={kept.app} wrong={wrong.app} />
          <TextField
            label="Lowest release or API level"
            name="lowest"
            defaultValue={kept.lowest}
            wrong={wrong.lowest}
            hint="Like 8.0 or API 26. More apps come on the next page."
          />
        </fieldset>
        <button type="submit" className="btn-main">
          Make the need
        </button>
      </Form>
    </>
  );
}
