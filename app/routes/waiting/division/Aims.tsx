import { Scroll } from "~/app/ui/Scroll";
import { countText } from "~/app/ui/words";
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

/** How far what was reached is from what no division can exceed, at most. */
const GAPS: Readonly<Record<keyof typeof AIM_WORDS, (gap: number, bound: number) => string>> = {
  least: (gap) => `at most ${Number(gap.toFixed(1))} away`,
  fair: (gap) => `at most ${(100 * gap).toFixed(1)} points away`,
  years: partOf,
  builds: (gap) => `at most ${Math.round(gap)} away`,
  hands: partOf,
};

function partOf(gap: number, bound: number): string {
  return `at most ${((100 * gap) / Math.max(1, Math.abs(bound))).toFixed(1)} % away`;
}

/** Less of what counts before leaves more to this one than was proven. */
const MOVED = "not proven since it was moved by hand";

/** What was aimed at, in its order, with what was reached and what no division can exceed. */
export function Aims({ proven, kinds }: Pick<ShownDraft, "proven" | "kinds">) {
  return (
    <section className="sheet" aria-labelledby="aims">
      <h2 id="aims">How good it is</h2>
      <p className="hint mt-1">
        Each aim is as good as can be while those above it give way by no more than you allow. What no division can
        exceed was proven by the solver, for the aims above as they stand.
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
            {proven.map(({ aim, value, bound, holds }) => (
              <tr key={aim}>
                <td>
                  {AIM_WORDS[aim].name}
                  <span className="hint block">{AIM_WORDS[aim].why}</span>
                  {aim === "builds" && kinds.models > 0 && (
                    <span className="hint block">
                      {countText(kinds.builds, "build")}, and {countText(kinds.models, "model")} for groups that want
                      one
                    </span>
                  )}
                </td>
                <td className="n align-top">{FIGURES[aim](value)}</td>
                <td className="n align-top">
                  {holds ? (
                    <AtBest aim={aim} value={value} bound={bound} />
                  ) : (
                    <span className="hint inline-block max-w-36 whitespace-normal">{MOVED}</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}

function AtBest({ aim, value, bound }: { aim: keyof typeof AIM_WORDS; value: number; bound: number | null }) {
  if (bound === null || !Number.isFinite(bound)) return "not known";
  if (bound - value <= 1e-4 * Math.max(1, Math.abs(value))) return "the best there is";
  return (
    <>
      {FIGURES[aim](bound)}
      <span className="hint block">{GAPS[aim](bound - value, bound)}</span>
    </>
  );
}
