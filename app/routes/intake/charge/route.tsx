import { db } from "~/app/server/http/context";
import { placedDevices } from "~/app/server/planning/lane";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { countText } from "~/app/ui/words";
import { currentValue } from "~/core/device/lookUp";
import { readPolicy } from "~/store/policy";

export function loader() {
  const floor = readPolicy(db()).policy.batteryFloor;
  const devices = placedDevices(db(), null)
    .filter((d) => d.station !== "aside" && d.station !== "records")
    .map((d) => ({
      tag: d.standing.tag,
      station: d.station,
      level: currentValue(d.facts, "battery.percent") ?? null,
    }))
    .filter((d) => d.level === null || d.level < floor)
    .sort((a, b) => (a.level ?? 101) - (b.level ?? 101));
  return { floor, devices };
}

export default function Charge({ loaderData }: { loaderData: ReturnType<typeof loader> }) {
  const { floor, devices } = loaderData;
  return (
    <>
      <title>Put on charge · Upshift Lane</title>
      <p className="hint">
        <Link to="/intake">Intake</Link>
      </p>
      <h1>Put on charge</h1>
      <Notice kind="caution">
        Look at each one first: swollen, hot, wet or with broken glass it is <Link to="/aside">set aside</Link> and
        never charged. Do not leave charging devices alone.
      </Notice>
      <p className="my-2">
        {countText(devices.length, "device")} below {floor} %, or not looked at. What is set aside is not in this list.
      </p>
      <ul className="columns-2 sm:columns-3 lg:columns-5">
        {devices.map((d) => (
          <li key={d.tag} className="py-0.5">
            <Link to={`/devices/${d.tag}`} className="font-bold">
              {d.tag}
            </Link>{" "}
            {d.level === null ? "not known" : `${d.level} %`}
          </li>
        ))}
      </ul>
    </>
  );
}
