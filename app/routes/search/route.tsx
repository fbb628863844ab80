import { Link } from "react-router";
import { db } from "~/app/server/context";
import { catalogueOf } from "~/app/server/planning";
import { modelTitle } from "~/core/catalogue/model";
import { searchDevices } from "~/store/devices";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const q = (new URL(request.url).searchParams.get("q") ?? "").trim().slice(0, 80);
  const low = q.toLowerCase();
  const { models, images } = catalogueOf(db());
  const has = (...texts: string[]) => low !== "" && texts.some((t) => t.toLowerCase().includes(low));
  return {
    q,
    devices: searchDevices(db(), q).map((d) => ({ tag: d.tag, donor: d.donor, serialEnd: d.serial?.slice(-4) ?? "" })),
    models: models
      .filter((m) => has(m.id, m.codename, m.board, ...m.names, ...m.modelNumbers))
      .map((m) => ({ id: m.id, title: modelTitle(m), numbers: m.modelNumbers.join(", ") })),
    images: images.filter((i) => has(i.id, i.title, i.build ?? "")).map((i) => ({ id: i.id, title: i.title })),
  };
}

export default function Search({ loaderData }: Route.ComponentProps) {
  const { q, devices, models, images } = loaderData;
  const nothing = devices.length + models.length + images.length === 0;
  return (
    <>
      <title>Search · Upshift Lane</title>
      <h1>Search: {q || "nothing typed"}</h1>
      {nothing && (
        <p className="sheet mt-3">
          Nothing found. Try a tag, the end of a serial number or IMEI, a donor, a model number or a build number.
        </p>
      )}
      {devices.length > 0 && (
        <section className="mt-4" aria-labelledby="d">
          <h2 id="d">Devices</h2>
          <ul className="list-disc pl-5">
            {devices.map((d) => (
              <li key={d.tag}>
                <Link to={`/devices/${d.tag}`}>{d.tag}</Link>{" "}
                <span className="hint">
                  {[d.serialEnd && `serial …${d.serialEnd}`, d.donor].filter(Boolean).join(", ")}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {models.length > 0 && (
        <section className="mt-4" aria-labelledby="m">
          <h2 id="m">Models</h2>
          <ul className="list-disc pl-5">
            {models.map((m) => (
              <li key={m.id}>
                <Link to={`/models/${m.id}`}>{m.title}</Link> <span className="hint">{m.numbers}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {images.length > 0 && (
        <section className="mt-4" aria-labelledby="i">
          <h2 id="i">Images</h2>
          <ul className="list-disc pl-5">
            {images.map((i) => (
              <li key={i.id}>
                <Link to={`/images/${i.id}`}>{i.title}</Link> <span className="hint">{i.id}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
