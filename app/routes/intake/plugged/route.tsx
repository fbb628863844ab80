import { data } from "react-router";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { findReadOut, listPlugged, readPlugged } from "~/app/server/intake/plugged";
import { takeReadOut } from "~/app/server/intake/takeReadOut";
import { allDevices, indexOf } from "~/app/server/planning/planning";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Pairs } from "~/app/ui/Pairs";
import { modelTitle } from "~/core/catalogue/model";
import { ATTACHED, isReadable } from "~/core/device/attached";
import { FACTS } from "~/core/device/fact";
import { maskNumber } from "~/core/device/imei";
import { currentFacts } from "~/core/device/lookUp";
import { readReadOut } from "~/core/device/readOut";
import { findStanding } from "~/store/devices";
import type { Route } from "./+types/route";

export async function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const bySerial = new Map(
    allDevices(db()).flatMap(({ standing: s }) => (s.serial ? [[s.serial.toLowerCase(), s.tag] as const] : [])),
  );
  const kept = findReadOut(Number(query.get("read")));
  const read = kept ? readReadOut(kept.text) : null;
  const at = new Date(0).toISOString();
  const identity = read
    ? indexOf(db()).identify(
        currentFacts([...read.facts].map(([key, value]) => ({ key, value, source: "read" as const, at, by: "" }))),
      )
    : null;
  return {
    ...(await listPlugged()),
    written: query.get("written"),
    readOut:
      kept && read
        ? {
            id: kept.id,
            serial: read.serial ? maskNumber(read.serial) : null,
            tag: read.serial ? (bySerial.get(read.serial.toLowerCase()) ?? null) : null,
            model: identity?.kind === "one" ? modelTitle(identity.model) : null,
            facts: [...read.facts].map(([key, value]) => ({ says: FACTS[key].says, value: String(value) })),
            problems: read.problems,
          }
        : null,
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const word = (name: string) => String(form.get(name) ?? "");
  const refuse = (says: string) => data({ says }, { status: 409 });
  if (form.get("do") === "read") {
    const read = await readPlugged({ client: word("client"), serial: word("serial") });
    return read.ok ? leadOn(`/intake/plugged?read=${read.readOut.id}`) : refuse(read.says);
  }
  const kept = findReadOut(Number(word("read")));
  if (!kept) return refuse("This read-out is gone: read the device again");
  const standing = findStanding(db(), word("tag").trim());
  if (!standing) return refuse(`There is no device ${word("tag") || "without a tag"}. Scan its tag in first`);
  const wrong = takeReadOut(db(), standing, kept.text, handOf(request));
  return wrong ? refuse(wrong) : leadOn(`/intake/plugged?written=${standing.tag}`);
}

export default function PluggedPage({ loaderData, actionData }: Route.ComponentProps) {
  const { devices, troubles, noClient, readOut, written } = loaderData;
  return (
    <>
      <title>Read a device · Upshift Lane</title>
      <p className="hint">
        <Link to="/intake">Intake</Link>
      </p>
      <h1>Read a device</h1>
      <p className="hint my-2 max-w-3xl">
        What is plugged into the computer this runs on, as adb and fastboot see it. Only lists and read-outs are run:
        nothing is written to a device here.
      </p>
      {written && !actionData && (
        <Notice kind="done">
          Written to <Link to={`/devices/${written}`}>{written}</Link>.
        </Notice>
      )}
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {troubles.map((t) => (
        <Notice key={t} kind="caution">
          {t}.{noClient && " Install the platform's tools, or paste a read-out on the device's page."}
        </Notice>
      ))}
      {readOut && (
        <section className="sheet my-4" aria-labelledby="readout">
          <h2 id="readout">
            {readOut.model ?? "A device that the catalogue does not know"}
            {readOut.serial && <span className="font-normal text-soft"> serial number {readOut.serial}</span>}
          </h2>
          <div className="my-2">
            <Pairs pairs={readOut.facts.map((f) => [f.says, f.value] as const)} />
          </div>
          {readOut.problems.map((p) => (
            <p key={p} className="hint">
              Not used: {p}
            </p>
          ))}
          <Form method="post" className="mt-3 flex flex-wrap items-end gap-2">
            <input type="hidden" name="read" value={readOut.id} />
            <TextField
              label={readOut.tag ? "It is this device, by its serial number" : "Which device is it? Its tag"}
              name="tag"
              defaultValue={readOut.tag ?? ""}
              required
            />
            <button type="submit" name="do" value="write" className="btn-main">
              Write it down
            </button>
          </Form>
        </section>
      )}
      <section aria-labelledby="attached">
        <div className="flex items-baseline gap-3">
          <h2 id="attached">Plugged in ({devices.length})</h2>
          <Link to="/intake/plugged" className="btn text-sm">
            Look again
          </Link>
        </div>
        {devices.length === 0 && troubles.length === 0 && (
          <p className="sheet mt-2 max-w-3xl">
            Nothing answers. Replug; switch debugging off and on; revoke the authorisations in the developer options;
            the original cable; a USB 2 port; the driver.
          </p>
        )}
        <ul className="mt-2 space-y-2">
          {devices.map((d) => (
            <li key={d.client + d.serial} className="sheet">
              <div className="flex flex-wrap items-center gap-3">
                <span className="font-mono font-bold">{maskNumber(d.serial)}</span>
                <span>
                  {d.client}: <strong>{ATTACHED[d.state].says}</strong> <span className="hint">{d.word}</span>
                </span>
                {isReadable(d) && (
                  <Form method="post">
                    <input type="hidden" name="client" value={d.client} />
                    <input type="hidden" name="serial" value={d.serial} />
                    <button type="submit" name="do" value="read" className="btn">
                      Read<span className="sr-only"> {maskNumber(d.serial)}</span>
                    </button>
                  </Form>
                )}
              </div>
              {ATTACHED[d.state].remedy && <p className="mt-1">{ATTACHED[d.state].remedy}</p>}
            </li>
          ))}
        </ul>
      </section>
    </>
  );
}
