import { db, guestAt } from "~/app/server/http/context";
import { catalogueOf } from "~/app/server/planning/planning";
import { Link } from "~/app/ui/Link";
import { dateText } from "~/app/ui/words";
import { mayDo } from "~/core/access/roles";
import { modelTitle } from "~/core/catalogue/model";
import { searchDevices } from "~/store/devices";
import { listGroups } from "~/store/evenings";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const q = (new URL(request.url).searchParams.get("q") ?? "").trim().slice(0, 80);
  const low = q.toLowerCase();
  const { models, images } = catalogueOf(db());
  const personal = guestAt(request)?.seesPersonalData ?? false;
  const has = (...texts: string[]) => low !== "" && texts.some((t) => t.toLowerCase().includes(low));
  const guest = guestAt(request);
  const groups = guest && mayDo(guest.role, "GET", "/groups/:id") ? listGroups(db()) : [];
  return {
    q,
    groups: groups
      .filter(({ name, note }) => has(name, note))
      .map(({ id, name, wanted, by }) => ({ id, title: name, note: `${wanted} by ${dateText(by)}` })),
    devices: searchDevices(db(), q).map((d) => ({
      tag: d.tag,
      donor: personal ? d.donor : "",
      serialEnd: d.serial?.slice(-4) ?? "",
    })),
    models: models
      .filter((m) => has(m.id, m.codename, m.board, ...m.names, ...m.modelNumbers))
      .map((m) => ({ id: m.id, title: modelTitle(m), numbers: m.modelNumbers.join(", ") })),
    images: images.filter((i) => has(i.id, i.title, i.build ?? "")).map((i) => ({ id: i.id, title: i.title })),
  };
}

export default function Search({ loaderData }: Route.ComponentProps) {
  const { q, devices, groups, models, images } = loaderData;
  const nothing = devices.length + groups.length + models.length + images.length === 0;
  return (
    <>
      <title>Search · Upshift Lane</title>
      <h1>Search: {q || "nothing typed"}</h1>
      {nothing && (
        <p className="sheet mt-3">
          Nothing found. Try a tag, the end of a serial number or IMEI, a donor, a model number or a build number.
        </p>
      )}
      <Found
        name="Devices"
        rows={devices.map((d) => ({
          to: `/devices/${d.tag}`,
          title: d.tag,
          note: [d.serialEnd && `serial …${d.serialEnd}`, d.donor].filter(Boolean).join(", "),
        }))}
      />
      <Found name="Groups" rows={groups.map((g) => ({ to: `/groups/${g.id}`, title: g.title, note: g.note }))} />
      <Found name="Models" rows={models.map((m) => ({ to: `/models/${m.id}`, title: m.title, note: m.numbers }))} />
      <Found name="Images" rows={images.map((i) => ({ to: `/images/${i.id}`, title: i.title, note: i.id }))} />
    </>
  );
}

/** What was found of one sort; nothing at all where nothing was. */
function Found({
  name,
  rows,
}: {
  name: string;
  rows: readonly { readonly to: string; readonly title: string; readonly note: string }[];
}) {
  if (rows.length === 0) return null;
  return (
    <section className="mt-4" aria-label={name}>
      <h2>{name}</h2>
      <ul className="list-disc pl-5">
        {rows.map((r) => (
          <li key={r.to}>
            <Link to={r.to}>{r.title}</Link> <span className="hint">{r.note}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
