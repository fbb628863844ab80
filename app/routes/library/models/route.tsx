import { db } from "~/app/server/http/context";
import { catalogueOf } from "~/app/server/planning/planning";
import { TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { describeRelease } from "~/core/android/releases";
import { findModels } from "~/core/catalogue/find";
import { modelTitle } from "~/core/catalogue/model";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const { models, images } = catalogueOf(db());
  const q = (new URL(request.url).searchParams.get("q") ?? "").trim();
  return {
    q,
    models: findModels(models, q)
      .map((m) => ({
        id: m.id,
        title: modelTitle(m),
        names: m.names,
        numbers: m.modelNumbers,
        board: m.board,
        form: m.form,
        launch: m.open.includes("launchApi") ? null : m.launchApi,
        slots: m.open.includes("slots") ? null : m.slots,
        unlock: m.open.includes("unlock")
          ? "not known"
          : m.unlock.possible
            ? m.unlock.waitingDays
              ? `after ${m.unlock.waitingDays} days`
              : "yes"
            : "no",
        images: images.filter((i) => i.models.includes(m.id)).length,
      }))
      .sort((a, b) => (a.title < b.title ? -1 : 1)),
  };
}

export default function Models({ loaderData }: Route.ComponentProps) {
  const { q, models } = loaderData;
  return (
    <>
      <title>Models · Upshift Lane</title>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h1>Models</h1>
        <div className="flex flex-wrap items-end gap-2">
          <Form method="get" className="flex items-end gap-2">
            <TextField label="Name, number, board" name="q" type="search" defaultValue={q} key={q} />
            <button type="submit" className="btn">
              Find
            </button>
          </Form>
          <a href={`/models.csv?${new URLSearchParams({ q })}`} className="btn">
            Save as CSV
          </a>
          <Link to="/models/new" className="btn-main">
            A new model
          </Link>
        </div>
      </div>
      <p className="hint my-2">
        One record is one board: it may be sold under several names, and one name may stand for several boards.
      </p>
      {models.length === 0 && <Notice kind="caution">No model is like “{q}”.</Notice>}
      <Scroll label="Models">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Model</th>
              <th scope="col">Also sold as</th>
              <th scope="col">Model numbers</th>
              <th scope="col">Board</th>
              <th scope="col">Came with</th>
              <th scope="col">Slots</th>
              <th scope="col">Can be unlocked</th>
              <th scope="col" className="n">
                Own images
              </th>
            </tr>
          </thead>
          <tbody>
            {models.map((m) => (
              <tr key={m.id}>
                <td>
                  <Link to={`/models/${m.id}`} className="font-bold">
                    {m.title}
                  </Link>{" "}
                  <span className="hint">{m.form}</span>
                </td>
                <td>{m.names.slice(1).join(", ") || "—"}</td>
                <td>{m.numbers.join(", ")}</td>
                <td>{m.board}</td>
                <td>{m.launch === null ? "not known" : describeRelease(m.launch)}</td>
                <td>{m.slots === null ? "not known" : m.slots ? "a and b" : "one"}</td>
                <td>{m.unlock}</td>
                <td className="n">{m.images}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </>
  );
}
