import { data } from "react-router";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { allDevices } from "~/app/server/planning/planning";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { timeText } from "~/app/ui/words";
import { DANGERS, DangerKind } from "~/core/device/danger";
import { asideHistory, bringBack, setAside } from "~/store/aside";
import { readPolicy } from "~/store/policy";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  return {
    tag: query.get("tag") ?? "",
    done: query.get("done"),
    collectionPoint: readPolicy(db()).policy.collectionPoint,
    devices: allDevices(db())
      .filter((d) => d.standing.aside)
      .map((d) => {
        const last = asideHistory(db(), d.standing.id).at(-1);
        return {
          tag: d.standing.tag,
          kind: d.standing.aside as DangerKind,
          note: last?.note ?? "",
          at: last?.at ?? "",
          by: last?.by ?? "",
        };
      }),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const tag = String(form.get("tag") ?? "").trim();
  const note = String(form.get("note") ?? "");
  const refuse = (says: string) => data({ says, tag, note, kind: String(form.get("kind") ?? "") }, { status: 400 });
  if (form.get("do") === "back") {
    const wrong = bringBack(db(), tag, note, handOf(request));
    return wrong ? refuse(wrong) : leadOn(`/aside?done=${encodeURIComponent(`${tag} is back in the lane`)}`);
  }
  const kind = DangerKind.safeParse(form.get("kind"));
  if (!kind.success) return refuse("Choose what you see");
  const wrong = setAside(db(), tag, kind.data, note, handOf(request));
  return wrong ? refuse(wrong) : leadOn(`/aside?done=${encodeURIComponent(`${tag} is set aside`)}`);
}

/** What can be seen on the table; "lost" comes from Clearance or the register. */
const SEEN = DangerKind.options.filter((k) => k !== "lost");

export default function Aside({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, done, collectionPoint, devices } = loaderData;
  return (
    <>
      <title>Set aside · Upshift Lane</title>
      <p className="hint">
        <Link to="/intake">Intake</Link>
      </p>
      <h1>Set aside</h1>
      <Notice kind="caution">
        A device that is set aside is not charged, not planned and not treated. Opening devices is for trained people.
        Local rules come first. Smoke or fire: leave the room and call the fire service.
      </Notice>
      {done && !actionData && <Notice kind="done">{done}.</Notice>}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[26rem_minmax(0,1fr)]">
        <Form method="post" className="sheet space-y-3 self-start">
          <h2>What do you see?</h2>
          <TextField label="Tag" name="tag" defaultValue={actionData?.tag ?? tag} required />
          <fieldset className="space-y-2">
            <legend className="sr-only">Danger</legend>
            {SEEN.map((kind) => (
              <label key={kind} className="flex items-start gap-2">
                <input
                  type="radio"
                  name="kind"
                  value={kind}
                  className="mt-1.5"
                  defaultChecked={actionData?.kind === kind}
                />
                <span>
                  <strong>{DANGERS[kind].says}</strong>
                  <span className="hint block">{DANGERS[kind].sign}</span>
                </span>
              </label>
            ))}
          </fieldset>
          <TextField label="Note" name="note" defaultValue={actionData?.note} />
          <button type="submit" className="btn-warn text-lg">
            Set it aside now
          </button>
          <div className="border-t border-rule pt-3">
            <h3>Where it goes</h3>
            <p className="whitespace-pre-wrap">{collectionPoint}</p>
            <Link to="/policy" className="text-sm">
              change this text
            </Link>
          </div>
        </Form>
        <section aria-labelledby="now">
          <h2 id="now">Set aside now ({devices.length})</h2>
          <ul className="mt-2 space-y-3">
            {devices.map((d) => (
              <li key={d.tag} className="sheet">
                <p>
                  <Link to={`/devices/${d.tag}`} className="text-lg font-bold">
                    {d.tag}
                  </Link>{" "}
                  <strong className="text-stop">{DANGERS[d.kind].says}</strong>{" "}
                  <span className="hint">
                    {timeText(d.at)}, {d.by}
                  </span>
                </p>
                <p className="mt-1">{DANGERS[d.kind].caution}</p>
                {d.note && <p className="hint">{d.note}</p>}
                <details className="mt-2 text-sm">
                  <summary className="cursor-pointer">It may come back to the lane</summary>
                  <Form method="post" className="mt-1 flex flex-wrap items-end gap-2">
                    <input type="hidden" name="tag" value={d.tag} />
                    <TextField label="Why, and who looked at it" name="note" className="grow" />
                    <button type="submit" name="do" value="back" className="btn">
                      Bring {d.tag} back
                    </button>
                  </Form>
                </details>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </>
  );
}
