import { db } from "~/app/server/http/context";
import { catalogueOf, plannedDevices } from "~/app/server/planning/planning";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { apiOf, describeRelease } from "~/core/android/releases";
import { floorOf } from "~/core/catalogue/need";
import { currentValue } from "~/core/device/lookUp";
import type { Route } from "./+types/route";

export function loader() {
  const devices = plannedDevices(db(), null);
  return {
    needs: catalogueOf(db()).needs.map((n) => {
      const floor = floorOf(n);
      const waiting = devices.filter((d) => d.need?.id === n.id);
      return {
        id: n.id,
        name: n.name,
        forWhom: n.forWhom,
        apps: n.apps.length,
        floor: floor.api,
        setBy: floor.setBy,
        devices: waiting.length,
        above: waiting.filter((d) => (apiOf(currentValue(d.facts, "android.release") ?? "") ?? 0) >= floor.api).length,
        reach: waiting.filter((d) => d.plan.best !== null).length,
      };
    }),
  };
}

export default function Floors({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <title>App floors · Upshift Lane</title>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1>App floors</h1>
        <div className="flex flex-wrap gap-2">
          <a href="/floors.csv" className="btn">
            Save as CSV
          </a>
          <Link to="/floors/new" className="btn-main">
            A new need
          </Link>
        </div>
      </div>
      <p className="hint my-2">The floor of a need is the highest of the lowest releases that its apps accept.</p>
      <Scroll label="Needs">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Need</th>
              <th scope="col">For whom</th>
              <th scope="col" className="n">
                Apps
              </th>
              <th scope="col">Floor</th>
              <th scope="col">Set by</th>
              <th scope="col" className="n">
                Devices
              </th>
              <th scope="col" className="n">
                Above it now
              </th>
              <th scope="col" className="n">
                Have a way
              </th>
            </tr>
          </thead>
          <tbody>
            {loaderData.needs.map((n) => (
              <tr key={n.id}>
                <td>
                  <Link to={`/floors/${n.id}`} className="font-bold">
                    {n.name}
                  </Link>
                </td>
                <td>{n.forWhom}</td>
                <td className="n">{n.apps}</td>
                <td>{describeRelease(n.floor)}</td>
                <td>{n.setBy.join(", ")}</td>
                <td className="n">{n.devices}</td>
                <td className="n">{n.above}</td>
                <td className="n">{n.reach}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </>
  );
}
