import { db, notFound } from "~/app/server/context";
import { catalogueOf } from "~/app/server/planning";
import { Pairs } from "~/app/ui/Pairs";
import { Scroll } from "~/app/ui/Scroll";
import { describeRelease } from "~/core/android/releases";
import { HARDWARE_WORDS } from "~/core/catalogue/common";
import { floorOf } from "~/core/catalogue/need";
import type { Route } from "./+types/route";

export function loader({ params }: Route.LoaderArgs) {
  const need = catalogueOf(db()).needs.find((n) => n.id === params.id);
  if (!need) throw notFound(`There is no need ${params.id}`);
  const floor = floorOf(need);
  const rest = need.apps.filter((a) => !floor.setBy.includes(a.name));
  return { need, floor, without: rest.length ? floorOf({ apps: rest }).api : null };
}

export default function Floor({ loaderData }: Route.ComponentProps) {
  const { need, floor, without } = loaderData;
  return (
    <>
      <title>{`${need.name} · App floors · Upshift Lane`}</title>
      <h1>{need.name}</h1>
      <p className="my-2 text-lg">
        Floor: <strong>{describeRelease(floor.api)}</strong>, set by {floor.setBy.join(" and ")}.
        {without !== null && without < floor.api && (
          <span className="text-soft">
            {" "}
            Without {floor.setBy.length > 1 ? "them" : "it"} the floor would be {describeRelease(without)}.
          </span>
        )}
      </p>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-[3fr_2fr]">
        <section className="sheet" aria-labelledby="apps">
          <h2 id="apps">Apps</h2>
          <Scroll label="Apps">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">App</th>
                  <th scope="col">Lowest release</th>
                  <th scope="col">Asks for</th>
                </tr>
              </thead>
              <tbody>
                {[...need.apps]
                  .sort((a, b) => b.minApi - a.minApi)
                  .map((a) => (
                    <tr key={a.name}>
                      <td className="font-semibold">{a.name}</td>
                      <td>{describeRelease(a.minApi)}</td>
                      <td>
                        {[a.services && "services package", a.integrity && "integrity verdict", a.only64 && "64-bit"]
                          .filter(Boolean)
                          .join(", ") || "nothing more"}
                      </td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </Scroll>
        </section>
        <section className="sheet self-start" aria-labelledby="group">
          <h2 id="group">The group</h2>
          <Pairs
            pairs={[
              ["For whom", need.forWhom],
              [
                "Hardware that must work",
                need.hardware.map((h) => HARDWARE_WORDS[h]).join(", ") || "none in particular",
              ],
              ["Takes", need.forms.map((f) => `${f}s`).join(" or ")],
              ["Note", need.note || "—"],
              ["Source", `${need.source}, ${need.on}`],
            ]}
          />
        </section>
      </div>
    </>
  );
}
