import { db } from "~/app/server/http/context";
import { devicesAt } from "~/app/server/planning/lane";
import { Link } from "~/app/ui/Link";
import { modelTitle } from "~/core/catalogue/model";
import { acceptedWay } from "~/store/devices";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const batch = new URL(request.url).searchParams.get("batch");
  return {
    devices: devicesAt(db(), batch, "checkout").map((d) => ({
      tag: d.standing.tag,
      title: d.model ? modelTitle(d.model) : "",
      need: d.need?.name ?? "",
      promised: acceptedWay(d.standing)?.release ?? "",
    })),
  };
}

export default function Checkout({ loaderData }: Route.ComponentProps) {
  const { devices } = loaderData;
  return (
    <>
      <title>Checkout · Upshift Lane</title>
      <h1>Checkout</h1>
      {devices.length === 0 ? (
        <p className="sheet mt-3">
          No device has come off the bench. The queue is at <Link to="/bench">Bench</Link>.
        </p>
      ) : (
        <table className="rows mt-3">
          <thead>
            <tr>
              <th scope="col">Tag</th>
              <th scope="col">Device</th>
              <th scope="col">Promised</th>
              <th scope="col">For</th>
            </tr>
          </thead>
          <tbody>
            {devices.map((d) => (
              <tr key={d.tag}>
                <td>
                  <Link to={`/checkout/${d.tag}`} className="font-bold">
                    {d.tag}
                  </Link>
                </td>
                <td>{d.title}</td>
                <td>Android {d.promised}</td>
                <td>{d.need}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
