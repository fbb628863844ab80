import { data } from "react-router";
import { today } from "~/app/server/http/clock";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { refusalOf } from "~/app/server/http/refusal";
import { catalogueOf } from "~/app/server/planning/planning";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { entryVersion, saveEntry } from "~/store/catalogue";
import type { Route } from "./+types/route";
import { NeedFields } from "./NeedFields";
import { needOfText, textOfForm, textOfNeed } from "./needForm";

function needOf(id: string) {
  const need = catalogueOf(db()).needs.find((n) => n.id === id);
  if (!need) throw notFound(`There is no need ${id}`);
  return need;
}

export function loader({ params }: Route.LoaderArgs) {
  const need = needOf(params.id);
  return { id: need.id, text: textOfNeed(need), version: entryVersion(db(), "need", need.id) };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request);
  const text = textOfForm(form);
  const read = needOfText(text, needOf(params.id), today(db()));
  if (!read.ok)
    return data({ text, wrong: read.wrong, says: "Nothing was saved: look at the marked fields" }, { status: 400 });
  try {
    saveEntry(db(), "need", read.need, Number(form.get("version")), handOf(request));
  } catch (error) {
    return data({ text, wrong: {}, says: refusalOf(error) }, { status: 409 });
  }
  return leadOn(`/floors/${params.id}`);
}

export default function FloorEdit({ loaderData, actionData }: Route.ComponentProps) {
  const { id, version } = loaderData;
  return (
    <>
      <title>Change a group · Upshift Lane</title>
      <p className="hint">
        <Link to={`/floors/${id}`}>{loaderData.text.name}</Link>
      </p>
      <h1>Change the group</h1>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      <Form method="post" className="sheet mt-3 max-w-3xl space-y-3">
        <input type="hidden" name="version" value={version} />
        <NeedFields kept={actionData?.text ?? loaderData.text} wrong={actionData?.wrong ?? {}} />
        <button type="submit" className="btn-main">
          Save
        </button>
      </Form>
    </>
  );
}
