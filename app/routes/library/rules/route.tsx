import { coverageCells } from "~/app/server/catalogue/coverage";
import { db } from "~/app/server/http/context";
import { allDevices } from "~/app/server/planning/planning";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { REASON_RULES } from "~/core/ways/reasons";

export function loader() {
  const cells = new Map<string, number>();
  for (const { code } of coverageCells(db())) if (code) cells.set(code, (cells.get(code) ?? 0) + 1);
  const devices = new Map<string, number>();
  for (const { plan } of allDevices(db()))
    for (const code of new Set([...plan.stops.map((s) => s.code), ...plan.questions.map((q) => q.code)]))
      devices.set(code, (devices.get(code) ?? 0) + 1);
  return Object.entries(REASON_RULES).map(([code, says]) => ({
    code,
    says,
    cells: cells.get(code) ?? 0,
    devices: devices.get(code) ?? 0,
  }));
}

export default function Rules({ loaderData }: { loaderData: ReturnType<typeof loader> }) {
  return (
    <>
      <title>Rules · Upshift Lane</title>
      <h1>Rules</h1>
      <p className="hint my-2">
        What must hold, each under the code that reasons carry. The numbers say where it speaks now:{" "}
        <Link to="/coverage">models and images</Link>, and devices on the lane.
      </p>
      <Scroll label="Rules">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Rule</th>
              <th scope="col">Code</th>
              <th scope="col" className="n">
                In the matrix
              </th>
              <th scope="col" className="n">
                Devices
              </th>
            </tr>
          </thead>
          <tbody>
            {loaderData.map((r) => (
              <tr key={r.code} id={r.code} className="target:bg-signal-wash">
                <td>{r.says}</td>
                <td>
                  <code className="text-sm">{r.code}</code>
                </td>
                <td className="n">{r.cells || "·"}</td>
                <td className="n">{r.devices || "·"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </>
  );
}
