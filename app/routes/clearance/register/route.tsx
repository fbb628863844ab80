import { data } from "react-router";
import { queueUnchecked, registerAddress, uncheckedDevices } from "~/app/server/clearance/register";
import { now } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { allDevices } from "~/app/server/planning/planning";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { countText, timeText } from "~/app/ui/words";
import { questionOf } from "~/core/clearance/register";
import { queueChecks, registerStates } from "~/store/register";
import type { Route } from "./+types/route";

const ORDER = ["hit", "given-up", "waiting"] as const;
/** Checks shown at most. */
const SHOWN = 200;

export function loader() {
  const devices = allDevices(db());
  const tags = new Map(devices.map((d) => [d.standing.id, d.standing.tag]));
  const rows = [...registerStates(db()).values()].flatMap((r) => {
    const tag = tags.get(r.device);
    return tag ? [{ ...r, tag }] : [];
  });
  return {
    address: registerAddress(),
    unchecked: uncheckedDevices(db()).length,
    numberless: devices.filter((d) => questionOf(d.standing) === null).length,
    clear: rows.filter((r) => r.state === "clear").length,
    // What a person must see first.
    open: ORDER.flatMap((state) => rows.filter((r) => r.state === state)).slice(0, SHOWN),
  };
}

export async function action({ request }: Route.ActionArgs) {
  if (!registerAddress()) return data({ says: "No register is set up here" }, { status: 409 });
  const form = await readForm(request);
  if (form.has("again")) queueChecks(db(), [Number(form.get("again"))], now(db()).toISOString());
  else queueUnchecked(db());
  return leadOn("/register");
}

const STATE_WORDS = {
  waiting: "waits",
  clear: "not reported",
  hit: "reported lost",
  "given-up": "could not be checked",
};

export default function RegisterPage({ loaderData, actionData }: Route.ComponentProps) {
  const { address, unchecked, numberless, clear, open } = loaderData;
  return (
    <>
      <title>Register of lost devices · Upshift Lane</title>
      <p className="hint">
        <Link to="/intake">Intake</Link> · <Link to="/clearance">Clearance</Link>
      </p>
      <h1>Register of lost devices</h1>
      <Notice kind="caution">
        A device that the register knows is stopped at once: set it aside and hand it over as local law says. A device
        that it does not know may be lost all the same.
      </Notice>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {!address && (
        <p className="sheet my-3">
          No register is set up here. The address of one that keeps the contract in docs/register.md is given when the
          application is started.
        </p>
      )}
      <dl className="my-3 grid max-w-md grid-cols-[1fr_auto] gap-x-4">
        <dt>Not checked yet</dt>
        <dd className="text-right font-bold tabular-nums">{unchecked}</dd>
        <dt>Without a number to ask about</dt>
        <dd className="text-right tabular-nums">{numberless}</dd>
        <dt>Not reported, when it was asked</dt>
        <dd className="text-right tabular-nums">{clear}</dd>
      </dl>
      {address && unchecked > 0 && (
        <Form method="post">
          <button type="submit" className="btn-main">
            Ask about {countText(unchecked, "device")}
          </button>
          <p className="hint mt-1">Only the IMEI or serial number goes to the register, nothing about the donor.</p>
        </Form>
      )}
      {open.length > 0 && (
        <Scroll label="Checks" className="mt-4">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Tag</th>
                <th scope="col">State</th>
                <th scope="col">What it says</th>
                <th scope="col">Attempts</th>
                <th scope="col">Next</th>
              </tr>
            </thead>
            <tbody>
              {open.map((r) => (
                <tr key={r.id}>
                  <td>
                    <Link to={`/devices/${r.tag}`} className="font-bold">
                      {r.tag}
                    </Link>
                  </td>
                  <td className={r.state === "hit" ? "font-bold text-stop" : undefined}>{STATE_WORDS[r.state]}</td>
                  <td>{r.says || "—"}</td>
                  <td className="n">{r.attempts}</td>
                  <td className="whitespace-nowrap">
                    {r.state === "waiting" && timeText(r.next_at)}
                    {r.state === "given-up" && (
                      <Form method="post">
                        <button type="submit" name="again" value={r.device} className="btn px-2 py-0.5 text-sm">
                          Try again
                        </button>
                      </Form>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </>
  );
}
