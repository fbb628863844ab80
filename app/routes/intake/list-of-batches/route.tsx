import { data } from "react-router";
import { z } from "zod";
import { db } from "~/app/server/http/context";
import { readForm, textFields } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { pageFrom } from "~/app/server/http/pages";
import { NewBatch, newBatch } from "~/app/server/intake/newBatch";
import { placedDevices } from "~/app/server/planning/lane";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Pages } from "~/app/ui/Pages";
import { countText, dateText } from "~/app/ui/words";
import { countedBatches, dropBatch } from "~/store/devices";
import type { Route } from "./+types/route";

/** Devices on one page. */
const PAGE = 100;

export function loader({ request }: Route.LoaderArgs) {
  const placed = placedDevices(db(), null);
  const all = placed.filter((d) => d.station !== "aside" && (d.station === "intake" || d.model === null));
  const from = pageFrom(request, all.length, PAGE);
  const waiting = all.slice(from, from + PAGE).map((d) => ({
    tag: d.standing.tag,
    says: d.plan.says,
    name: String(d.facts.get("model.name")?.value ?? "unknown"),
    donor: d.standing.donor,
  }));
  return {
    batches: countedBatches(db()),
    waiting,
    page: { from, of: all.length, size: PAGE },
    aside: placed.filter((d) => d.station === "aside").length,
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = textFields(await readForm(request));
  if (form.drop) {
    const gone = dropBatch(db(), form.drop);
    return gone
      ? leadOn("/intake")
      : data({ wrong: { title: ["This batch has devices or lists: it can't be taken back"] }, form }, { status: 409 });
  }
  const read = NewBatch.safeParse(form);
  if (!read.success) return data({ wrong: z.flattenError(read.error).fieldErrors, form }, { status: 400 });
  return leadOn(`/intake/list?batch=${newBatch(db(), read.data)}`);
}

export default function Intake({ loaderData, actionData }: Route.ComponentProps) {
  const { batches, waiting, page, aside } = loaderData;
  const form = actionData?.form;
  const wrong: { title?: string[]; received?: string[]; note?: string[] } | undefined = actionData?.wrong;
  return (
    <>
      <title>Intake · Upshift Lane</title>
      <h1>Intake</h1>
      <Notice kind="caution">
        Swollen, hot, punctured or wet: do not charge, do not press, do not open. Isolate the device and hand it to a
        battery collection point. Opening devices is for trained people.
      </Notice>
      <div className="flex flex-wrap gap-2">
        <Link to="/intake/list" className="btn-main">
          Take in a list
        </Link>
        <Link to="/many" className="btn">
          Many at once
        </Link>
        <Link to="/intake/scan" className="btn-main">
          Scan devices in
        </Link>
        <Link to="/intake/device" className="btn">
          Take in one device
        </Link>
        <Link to="/aside" className="btn-warn">
          Set aside {aside > 0 && `(${aside})`}
        </Link>
        <Link to="/intake/plugged" className="btn">
          Read a device
        </Link>
        <Link to="/labels" className="btn">
          Labels
        </Link>
        <Link to="/intake/charge" className="btn">
          Put on charge
        </Link>
        <Link to="/register" className="btn">
          Register of lost devices
        </Link>
      </div>
      <div className="mt-6 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[3fr_2fr]">
        <section aria-labelledby="unknown">
          <h2 id="unknown">Not identified yet</h2>
          <Pages {...page} what="Devices" />
          {waiting.length === 0 ? (
            <p className="hint mt-1">Every device's model is known.</p>
          ) : (
            <table className="rows mt-1">
              <thead>
                <tr>
                  <th scope="col">Tag</th>
                  <th scope="col">Name</th>
                  <th scope="col">What tells it apart</th>
                </tr>
              </thead>
              <tbody>
                {waiting.map((d) => (
                  <tr key={d.tag}>
                    <td>
                      <Link to={`/devices/${d.tag}`} className="whitespace-nowrap">
                        {d.tag}
                      </Link>
                    </td>
                    <td className="whitespace-nowrap">{d.name}</td>
                    <td>{d.says}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <h2 className="mt-6">Batches</h2>
          <table className="rows mt-1">
            <thead>
              <tr>
                <th scope="col">Batch</th>
                <th scope="col">Received</th>
                <th scope="col" className="n">
                  Devices
                </th>
              </tr>
            </thead>
            <tbody>
              {batches.map((b) => (
                <tr key={b.id}>
                  <td>
                    <Link to={`/match?batch=${b.id}`}>{b.title}</Link> <span className="hint">{b.note}</span>{" "}
                    <Link to={`/labels?batch=${b.id}`} className="text-sm">
                      labels
                    </Link>
                  </td>
                  <td>{dateText(b.received)}</td>
                  <td className="n">
                    {countText(b.devices, "device")}
                    {b.devices === 0 && (
                      <Form method="post">
                        <button type="submit" name="drop" value={b.id} className="btn px-2 py-0 text-xs">
                          Take back<span className="sr-only"> {b.title}</span>
                        </button>
                      </Form>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <section aria-labelledby="new" className="sheet self-start">
          <h2 id="new">New batch</h2>
          <Form method="post" className="mt-2 space-y-3">
            <TextField
              label="Name"
              name="title"
              defaultValue={form?.title}
              wrong={wrong?.title?.[0]}
              required
              placeholder="Winter collection"
            />
            <TextField
              label="Received on"
              name="received"
              type="date"
              defaultValue={form?.received}
              wrong={wrong?.received?.[0]}
              required
            />
            <TextField label="From whom" name="note" defaultValue={form?.note} wrong={wrong?.note?.[0]} />
            <button type="submit" className="btn-main">
              Make the batch
            </button>
          </Form>
        </section>
      </div>
    </>
  );
}
