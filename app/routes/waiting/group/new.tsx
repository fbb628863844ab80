import { data } from "react-router";
import { today } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf } from "~/app/server/planning/planning";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { addGroup } from "~/store/evenings";
import type { Route } from "./+types/new";
import { GroupFields } from "./GroupFields";
import { readGroup, typedOf } from "./groupForm";

const needsOf = () => catalogueOf(db()).needs.map(({ id, name }) => ({ value: id, text: name }));

export function loader() {
  return { needs: needsOf() };
}

export async function action({ request }: Route.ActionArgs) {
  const typed = typedOf(await readForm(request));
  const read = readGroup(typed, catalogueOf(db()).needs, today(db()));
  if ("wrong" in read)
    return data({ typed, wrong: read.wrong, says: "Look at what is marked. Nothing was written" }, { status: 400 });
  const id = addGroup(db(), read.group, handOf(request));
  if (typeof id === "string") return data({ typed, wrong: { name: id }, says: id }, { status: 409 });
  return leadOn(`/groups/${id}`);
}

export default function GroupNew({ loaderData: { needs }, actionData }: Route.ComponentProps) {
  return (
    <>
      <title>Another group · Upshift Lane</title>
      <p className="hint">
        <Link to="/groups">Groups</Link>
      </p>
      <h1>Another group</h1>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      {needs.length === 0 ? (
        <p className="sheet mt-3 max-w-3xl">
          A group waits with a need: which apps must run. <Link to="/floors/new">Write down the first need</Link>.
        </p>
      ) : (
        <Form method="post" className="sheet mt-3 max-w-3xl space-y-3">
          <GroupFields typed={actionData?.typed ?? {}} wrong={actionData?.wrong ?? {}} needs={needs} />
          <button type="submit" className="btn-main">
            Write the group down
          </button>
        </Form>
      )}
    </>
  );
}
