import { handAt } from "~/app/server/bench/handAt";
import { now } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { devicesAt } from "~/app/server/planning/lane";
import { Link } from "~/app/ui/Link";
import { countText, minutesText, timeText } from "~/app/ui/words";
import { modelTitle } from "~/core/catalogue/model";
import { currentValue } from "~/core/device/lookUp";
import type { Way } from "~/core/upgrade/way";
import { acceptedWay } from "~/store/devices";
import { readPolicy } from "~/store/policy";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const at = now(db()).toISOString();
  const batch = new URL(request.url).searchParams.get("batch");
  const devices = devicesAt(db(), batch, "bench").map((d) => {
    const way = acceptedWay(d.standing) as Way;
    return {
      tag: d.standing.tag,
      title: d.model ? modelTitle(d.model) : "",
      to: way.release,
      handsOn: way.handsOnMinutes,
      unattended: way.unattendedMinutes,
      waiting: way.waitingDays,
      done: d.done,
      steps: d.steps,
      hand: d.steps > 0 && d.standing.run ? handAt(db(), { ...d, run: d.standing.run }, at) : null,
      battery: currentValue(d.facts, "battery.percent") ?? null,
    };
  });
  return { devices, floor: readPolicy(db()).policy.batteryFloor };
}

export default function Bench({ loaderData }: Route.ComponentProps) {
  const { devices, floor } = loaderData;
  const handsOn = devices.reduce((sum, d) => sum + d.handsOn, 0);
  const unattended = devices.reduce((sum, d) => sum + d.unattended, 0);
  return (
    <>
      <title>Bench · Upshift Lane</title>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1>Bench</h1>
        <Link to="/bench/taught" className="btn">
          What the bench taught
        </Link>
      </div>
      {devices.length === 0 ? (
        <p className="sheet mt-3">
          Nothing is accepted and waiting. Decide at <Link to="/match">Match</Link> what comes next.
        </p>
      ) : (
        <>
          <p className="my-2">
            {countText(devices.length, "device")}: {minutesText(handsOn)} of hands-on work, {minutesText(unattended)}{" "}
            unattended in between. <Link to="/prepare">Files to prepare</Link>
          </p>
          <ul className="grid grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-2 xl:grid-cols-3">
            {devices.map((d) => (
              <li key={d.tag} className="sheet">
                <Link to={`/bench/${d.tag}`} className="text-lg font-bold">
                  {d.tag}
                </Link>
                <p>
                  {d.title} to Android {d.to}
                </p>
                <p className="hint">
                  {minutesText(d.handsOn)} hands-on, {minutesText(d.unattended)} unattended
                  {d.waiting ? `, ${d.waiting} days of waiting` : ""}
                </p>
                {d.hand && (
                  <p className="font-semibold text-lane-deep">
                    In hand: {d.hand.by}, since {timeText(d.hand.since)}
                  </p>
                )}
                <p className="hint">
                  {d.battery === null ? "Battery not read yet" : `Battery ${d.battery} % when it was last read`}
                  {d.battery !== null && d.battery < floor ? `: charge it to ${floor} % first` : ""}
                </p>
                <p className="mt-2 font-semibold">
                  {d.steps ? `Step ${Math.min(d.done + 1, d.steps)} of ${d.steps}` : "Not begun"}
                </p>
                {d.steps > 0 && (
                  <progress
                    className="w-full accent-lane"
                    max={d.steps}
                    value={d.done}
                    aria-label={`${d.tag}: ${d.done} of ${d.steps} steps done`}
                  />
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
