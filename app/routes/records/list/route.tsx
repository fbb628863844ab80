import { db } from "~/app/server/http/context";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { countText, timeText } from "~/app/ui/words";
import type { Route } from "./+types/route";
import { recordRows } from "./rows";

export function loader({ request }: Route.LoaderArgs) {
  return { rows: recordRows(db(), new URL(request.url).searchParams.get("batch")) };
}

export default function Records({ loaderData }: Route.ComponentProps) {
  const { rows } = loaderData;
  return (
    <>
      <title>Records · Upshift Lane</title>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1>Records</h1>
        <a href="/records.csv" className="btn">
          Save as CSV
        </a>
      </div>
      <p className="hint my-2">
        {countText(rows.length, "device")} that left the lane, with what was promised and what was measured. The CSV
        holds neither identity numbers nor donors' names.
      </p>
      {rows.length === 0 ? (
        <p className="sheet">No device has left the lane yet. It does when Checkout says done.</p>
      ) : (
        <Scroll label="Records">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Tag</th>
                <th scope="col">Device</th>
                <th scope="col">For</th>
                <th scope="col">Ended</th>
                <th scope="col">Promised</th>
                <th scope="col">Measured</th>
                <th scope="col">When, by whom</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={r.tag}>
                  <td>
                    <Link to={`/devices/${r.tag}`}>{r.tag}</Link>
                  </td>
                  <td>{r.device}</td>
                  <td>{r.need}</td>
                  <td>
                    {r.ended}
                    {r.why && <span className="hint block">{r.why}</span>}
                  </td>
                  <td>{r.promised ? `Android ${r.promised}` : "—"}</td>
                  <td>{r.measured ? `Android ${r.measured}` : "—"}</td>
                  <td>{r.at ? `${timeText(r.at)}, ${r.by}` : "—"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </>
  );
}
