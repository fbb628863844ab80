import { Link } from "react-router";
import { db } from "~/app/server/context";
import { catalogueOf } from "~/app/server/planning";
import { Scroll } from "~/app/ui/Scroll";
import { describeRelease } from "~/core/android/releases";
import { modelTitle } from "~/core/catalogue/model";
import type { Route } from "./+types/route";

export function loader() {
  const { models, images } = catalogueOf(db());
  return {
    models: models
      .map((m) => ({
        id: m.id,
        title: modelTitle(m),
        names: m.names,
        numbers: m.modelNumbers,
        board: m.board,
        form: m.form,
        launch: m.launchApi,
        slots: m.slots,
        unlock: m.unlock.possible ? (m.unlock.waitingDays ? `after ${m.unlock.waitingDays} days` : "yes") : "no",
        images: images.filter((i) => i.models.includes(m.id)).length,
      }))
      .sort((a, b) => (a.title < b.title ? -1 : 1)),
  };
}

export default function Models({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <title>Models · Upshift Lane</title>
      <h1>Models</h1>
      <p className="hint my-2">
        One record is one board: it may be sold under several names, and one name may stand for several boards.
      </p>
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
            {loaderData.models.map((m) => (
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
                <td>{describeRelease(m.launch)}</td>
                <td>{m.slots ? "a and b" : "one"}</td>
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
