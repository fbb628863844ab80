import { BandChart } from "~/app/ui/BandChart";
import { Pairs } from "~/app/ui/Pairs";
import { chanceText, dateText, LATE, sureText } from "~/app/ui/words";

export interface ShownOdds {
  readonly odds: readonly { readonly count: number; readonly chance: number; readonly sure: string | null }[];
  readonly points: readonly {
    readonly day: string;
    readonly expected: number;
    readonly band: readonly [number, number];
  }[];
  readonly costs: readonly { readonly says: string; readonly devices: number }[];
}

interface Props {
  readonly shown: ShownOdds;
  readonly wanted: number;
  /** Devices that were handed over to them already. */
  readonly given: number;
  readonly by: string;
  /** That day is over. */
  readonly over: boolean;
}

/** What can be promised to a group: how many, by when, how sure, and what holds it up. */
export function Odds({ shown, wanted, given, by, over }: Props) {
  return (
    <>
      <Pairs
        pairs={shown.odds.map(
          ({ count, chance, sure }) =>
            [
              count === wanted ? `All ${count}` : `${count} of ${wanted}`,
              sureText(
                count,
                given,
                `${over ? LATE : chanceText(chance)}; nine times in ten ${sure ? `by ${dateText(sure)}` : "on no day that is known"}`,
              ),
            ] as const,
        )}
      />
      <BandChart
        points={shown.points.map(({ day, ...point }) => ({ day: dateText(day), ...point }))}
        all={wanted}
        certain={dateText(by)}
      />
      <details className="mt-2">
        <summary>The same as a table</summary>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">By</th>
              <th scope="col" className="n">
                In nine of ten cases at least
              </th>
              <th scope="col" className="n">
                As a rule
              </th>
              <th scope="col" className="n">
                At best
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.points.map(({ day, expected, band: [low, high] }) => (
              <tr key={day}>
                <td>{dateText(day)}</td>
                <td className="n">{low}</td>
                <td className="n">{expected}</td>
                <td className="n">{high}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {!over && <HoldsUp costs={shown.costs} />}
    </>
  );
}

/** What costs how many devices on the group's day. */
function HoldsUp({ costs }: Pick<ShownOdds, "costs">) {
  const [worst, ...others] = costs;
  if (!worst || worst.devices < 0.05)
    return <p className="mt-2">Of what is uncertain, nothing in particular holds it up.</p>;
  return (
    <>
      <p className="mt-2">
        What holds it up most: {worst.says} ({worst.devices.toFixed(1)} devices on their day).
      </p>
      <ul className="hint list-disc pl-5">
        {others.map(({ says, devices }) => (
          <li key={says}>
            {says}: {devices.toFixed(1)}
          </li>
        ))}
      </ul>
    </>
  );
}
