import { Check } from "lucide-react";
import type { ReactNode } from "react";
import type { FirstSteps } from "~/app/server/planning/firstSteps";
import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { countText } from "~/app/ui/words";

export interface TypedNeed {
  readonly name: string;
  readonly text: string;
  readonly wrong: Readonly<Partial<Record<"name" | "text", string>>>;
}

/** From nothing to the first device that can go: what is done, what comes next, and the form for it at hand. */
export function FirstStepsList({ steps, typed }: { readonly steps: FirstSteps; readonly typed: TypedNeed | null }) {
  const { needs, devices, unknown, known, without, images, cleared, batch } = steps;
  const done = [needs > 0, devices > 0, devices > 0 && unknown.length === 0, images > 0 && !without, cleared > 0];
  const next = done.indexOf(false);
  const step = (n: number, title: string, said: string, open: ReactNode) => (
    <li className="sheet" aria-current={next === n ? "step" : undefined}>
      <h2 className={done[n] || next === n || (n > 2 && known > 0) ? undefined : "text-soft"}>
        {done[n] && <Check className="mr-1 inline text-lane" size={20} aria-hidden="true" />}
        {n + 1}. {title}
        {done[n] && <span className="hint font-normal"> {said}</span>}
      </h2>
      {!done[n] && (next === n || (n > 2 && known > 0)) && open}
    </li>
  );
  return (
    <section aria-labelledby="first" className="mt-3 max-w-4xl">
      <p id="first" className="mb-2">
        Five steps to the first device that can go. Whoever has a catalogue pack{" "}
        <Link to="/catalogue">brings it in</Link> and is spared the third and fourth.
      </p>
      <ol className="space-y-2">
        {step(
          0,
          "Who waits, and for which apps",
          countText(needs, "need"),
          <Form method="post" className="mt-2 space-y-2">
            <TextField
              label="The group's name"
              name="name"
              defaultValue={typed?.name}
              wrong={typed?.wrong.name}
              maxLength={60}
              required
              placeholder="as you call it, e.g. Reading room"
            />
            <AreaField
              label="Its apps, one a line: the name, a comma, the lowest Android it runs on"
              name="text"
              rows={4}
              mono
              required
              defaultValue={typed?.text}
              wrong={typed?.wrong.text}
              placeholder={"Messenger, 8.0\nBank, API 29"}
            />
            <button type="submit" name="do" value="need" className="btn-main">
              Write it down
            </button>
          </Form>,
        )}
        {step(
          1,
          "The devices",
          countText(devices, "device"),
          <Form method="post" action="/intake/list" encType="multipart/form-data" className="mt-2 space-y-2">
            <input type="hidden" name="batch" value={batch} />
            {batch === "" && (
              <TextField label="Where they come from" name="title" maxLength={80} required minLength={3} />
            )}
            <div>
              <label className="label" htmlFor="file">
                Their list, as it is
              </label>
              <input id="file" name="file" type="file" accept=".xlsx,.ods,.csv,.tsv,.txt,text/csv" className="field" />
            </div>
            <AreaField
              label="Or paste it, with a line that names the columns"
              name="text"
              rows={4}
              mono
              spellCheck={false}
            />
            <button type="submit" className="btn-main">
              Look at it first
            </button>
          </Form>,
        )}
        {step(
          2,
          "Their models",
          "all known",
          <>
            <ul className="mt-1 list-disc pl-5">
              {unknown.map((u) => (
                <li key={u.called}>
                  <Link to={`/models/new?tag=${u.from}`}>{u.called || "without a name"}</Link>{" "}
                  <span className="hint">
                    {countText(u.devices, "device")}, drafted from {u.from}
                  </span>
                </li>
              ))}
            </ul>
            <p className="hint">
              One is enough to go on: begin with the one you have most of. What it says of itself fills in the rest.
            </p>
          </>,
        )}
        {step(
          3,
          "What could go on them",
          countText(images, "image"),
          <p className="mt-1">
            <Link to={`/images/new?${new URLSearchParams({ kind: "official-update", model: without?.id ?? "" })}`}>
              Write down an image{without ? ` for ${without.title}` : ""}
            </Link>
            : the maker's last update, a ROM, a generic image. A file that lies here can be{" "}
            <Link to="/files">looked at</Link> and drafted from.
          </p>,
        )}
        {step(
          4,
          "Their account locks",
          `${countText(cleared, "device")} clear`,
          <p className="mt-1">
            Nothing is planned before it. Look at each, then confirm{" "}
            <Link to={`/many?batch=${batch}`}>many at once</Link>, or go through <Link to="/clearance">Clearance</Link>{" "}
            where an account is on one.
          </p>,
        )}
      </ol>
      {next < 0 && (
        <p className="sheet mt-2">
          What still holds them up stands beside each device at <Link to={`/match?batch=${batch}`}>Match</Link>: most
          often a question that one look at it answers.
        </p>
      )}
    </section>
  );
}
