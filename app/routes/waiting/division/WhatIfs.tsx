import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Scroll } from "~/app/ui/Scroll";
import { allText, chanceText } from "~/app/ui/words";
import type { ShownDraft } from "./shown";

interface Props {
  readonly draft: ShownDraft;
  readonly apps: readonly { readonly value: string; readonly text: string }[];
}

/** The same division as if something were otherwise, side by side with what it is. */
export function WhatIfs({ draft, apps }: Props) {
  const { shares, alternatives, reserve, state, stale } = draft;
  if (!shares) return null;
  const placed = shares.flatMap(({ devices }) => devices.map(({ device }) => device)).sort();
  const all = [...placed, ...reserve.map(({ device }) => device)].sort();
  const asOptions = (tags: readonly string[]) => tags.map((tag) => ({ value: tag, text: tag }));
  return (
    <section className="sheet mt-4" aria-labelledby="what-if">
      <h2 id="what-if">What if</h2>
      {state !== "running" && !stale && (
        <div className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-2">
          <Suppose is="elsewhere" button="Why this one there?">
            <ChoiceField label="What if this one went elsewhere" name="device" options={asOptions(placed)} />
          </Suppose>
          <Suppose is="evenings" button="See">
            <TextField label="Evenings more" name="count" inputMode="numeric" defaultValue="1" />
          </Suppose>
          <Suppose is="devices" button="See">
            <TextField label="Devices more" name="count" inputMode="numeric" defaultValue="5" />
            <ChoiceField label="like" name="device" options={asOptions(all)} />
          </Suppose>
          {apps.length > 0 && (
            <Suppose is="without" button="See">
              <ChoiceField label="An app that is not asked for" name="app" options={apps} />
            </Suppose>
          )}
        </div>
      )}
      {alternatives.map(({ says, shares: then, changes, moves }) => (
        <div key={says} className="mt-4">
          <h3 className="font-bold">If {says}</h3>
          <p>{changes.length > 0 ? `${changes.join("; ")}.` : "It would be as good as it is."}</p>
          <Scroll label={`If ${says}`}>
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Group</th>
                  <th scope="col" className="n">
                    Ready on the day, now
                  </th>
                  <th scope="col" className="n">
                    then
                  </th>
                  <th scope="col" className="n">
                    At least that many, now
                  </th>
                  <th scope="col" className="n">
                    then
                  </th>
                  <th scope="col" className="n">
                    All, now
                  </th>
                  <th scope="col" className="n">
                    then
                  </th>
                </tr>
              </thead>
              <tbody>
                {then.map((share) => {
                  const now = shares.find(({ group }) => group === share.group);
                  return (
                    <tr key={share.group}>
                      <td>{share.name}</td>
                      <td className="n">{now ? now.expected.toFixed(1) : "–"}</td>
                      <td className="n">{share.expected.toFixed(1)}</td>
                      <td className="n">{now ? chanceText(now.leastChance) : "–"}</td>
                      <td className="n">{chanceText(share.leastChance)}</td>
                      <td className="n">{now ? allText(now.wanted, now.placed, now.allChance) : "–"}</td>
                      <td className="n">{allText(share.wanted, share.placed, share.allChance)}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </Scroll>
          {moves.length > 0 && (
            <details>
              <summary>Who would go elsewhere</summary>
              <ul className="mt-1 list-disc pl-5">
                {moves.map(({ device, from, to }) => (
                  <li key={device}>
                    {device}: {from ?? "the reserve"} → {to ?? "the reserve"}
                  </li>
                ))}
              </ul>
            </details>
          )}
        </div>
      ))}
    </section>
  );
}

function Suppose({ is, button, children }: { is: string; button: string; children: React.ReactNode }) {
  return (
    <Form method="post" className="flex flex-wrap items-end gap-2" preventScrollReset>
      <input type="hidden" name="what" value="what-if" />
      <input type="hidden" name="suppose" value={is} />
      {children}
      <button type="submit" className="btn">
        {button}
      </button>
    </Form>
  );
}
