import { Scroll } from "~/app/ui/Scroll";
import { AIM_WORDS } from "~/core/allocate/question";
import type { ShownDraft } from "./shown";

/** Figures of an aim are turned so that more is better; people read them the other way round. */
const FIGURES: Readonly<Record<keyof typeof AIM_WORDS, (value: number) => string>> = {
  least: (value) => `weight ${Number(value.toFixed(1))}`,
  fair: (value) => `${(-100 * value).toFixed(1)} % short`,
  years: (value) => `${value.toFixed(1)} years`,
  builds: (value) => String(Math.round(-value)),
  hands: (value) => `${Math.round(-value)} min`,
};

/** What was aimed at, in its order, with what was reached and what no division can exceed. */
export function Aims({ proven }: { proven: ShownDraft["proven"] }) {
  return (
    <section className="sheet" aria-labelledby="aims">
      <h2 id="aims">How good it is</h2>
      <p className="hint mt-1">
        Each aim is as good as can be without losing anything of those above it. What no division can exceed was proven
        by the solver, for the aims above as they stand.
      </p>
      <Scroll label="Aims">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Aim</th>
              <th scope="col" className="n">
                Reached
              </th>
              <th scope="col" className="n">
                At best
              </th>
            </tr>
          </thead>
          <tbody>
            {proven.map(({ aim, value, bound }) => (
              <tr key={aim}>
                <td>
                  {AIM_WORDS[aim].name}
                  <span className="hint block">{AIM_WORDS[aim].why}</span>
                </td>
                <td className="n align-top">{FIGURES[aim](value)}</td>
                <td className="n align-top">
                  {bound === null || !Number.isFinite(bound)
                    ? "not known"
                    : bound - value <= 1e-4 * Math.max(1, Math.abs(value))
                      ? "the best there is"
                      : FIGURES[aim](bound)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}
